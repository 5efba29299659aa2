# Compiler, linker and cache settings that hold for every target.
set(CMAKE_CXX_STANDARD 20)
set(CMAKE_CXX_STANDARD_REQUIRED ON)
set(CMAKE_CXX_EXTENSIONS OFF)
set(CMAKE_EXPORT_COMPILE_COMMANDS ON)
set(CMAKE_RUNTIME_OUTPUT_DIRECTORY ${CMAKE_BINARY_DIR}/bin)
set(CMAKE_CXX_FLAGS_RELEASE "-O2 -DNDEBUG")
set(CMAKE_CXX_FLAGS_RELWITHDEBINFO "-O1 -g1")

option(BQ_WARNINGS_AS_ERRORS "Treat warnings as errors" OFF)
option(BQ_SANITIZE "Address and undefined-behaviour sanitizers" OFF)

add_compile_options(-Wall -Wextra -Wpedantic -Wshadow -Wno-psabi)
if(BQ_WARNINGS_AS_ERRORS)
  add_compile_options(-Werror)
endif()
if(BQ_SANITIZE)
  add_compile_options(-fsanitize=address,undefined -fno-sanitize-recover=all -fno-omit-frame-pointer)
  add_link_options(-fsanitize=address,undefined)
endif()

if(BQ_FUZZ)
  add_compile_options(-fsanitize=fuzzer-no-link)
endif()

find_program(CCACHE_PROGRAM ccache)
if(CCACHE_PROGRAM)
  # Precompiled headers and ccache agree only with these settings.
  set(CMAKE_CXX_COMPILER_LAUNCHER ${CMAKE_COMMAND} -E env
    CCACHE_SLOPPINESS=pch_defines,time_macros,include_file_mtime,include_file_ctime ${CCACHE_PROGRAM})
  if(CMAKE_CXX_COMPILER_ID STREQUAL "GNU")
    add_compile_options(-fpch-preprocess)
  endif()
endif()
find_program(MOLD_PROGRAM mold)
if(MOLD_PROGRAM)
  add_link_options(-fuse-ld=mold)
endif()

# bq_library(NAME SOURCES... LINK targets...): the library of the folder src/NAME.
# Includes are written "NAME/header.h"; LINK names the only rooms it may see.
function(bq_library name)
  cmake_parse_arguments(ARG "" "" "SOURCES;LINK;LINK_PRIVATE" ${ARGN})
  add_library(bq_${name} STATIC ${ARG_SOURCES})
  add_library(bq::${name} ALIAS bq_${name})
  target_include_directories(bq_${name} PUBLIC ${PROJECT_SOURCE_DIR}/src)
  target_link_libraries(bq_${name} PUBLIC ${ARG_LINK} PRIVATE ${ARG_LINK_PRIVATE})
endfunction()

# bq_light(files...): code that never runs hot; less optimising builds it much sooner.
function(bq_light)
  set_source_files_properties(${ARGN} PROPERTIES COMPILE_OPTIONS "$<$<CONFIG:Release>:-O1>")
endfunction()
