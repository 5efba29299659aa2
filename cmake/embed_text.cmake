# Writes a C++ file with texts as constants: -DOUT=file.cpp -DPAIRS="kName=path;kName=path"
set(content "// Written by cmake/embed_text.cmake.\nnamespace bq::inline workflow {\n")
foreach(pair IN LISTS PAIRS)
  string(REGEX MATCH "^([^=]+)=(.*)$" ignored "${pair}")
  set(name ${CMAKE_MATCH_1})
  file(READ "${CMAKE_MATCH_2}" text)
  string(APPEND content "extern const char* const ${name};\nconst char* const ${name} = R\"embedded(${text})embedded\";\n")
endforeach()
file(WRITE ${OUT} "${content}}  // namespace bq::inline workflow\n")
