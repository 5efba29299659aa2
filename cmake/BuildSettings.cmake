# Compiler, linker and cache settings that hold for every target.
set(CMAKE_CXX_STANDARD 20)
set(CMAKE_CXX_STANDARD_REQUIRED ON)
set(CMAKE_CXX_EXTENSIONS OFF)
set(CMAKE_EXPORT_COMPILE_COMMANDS ON)
set(CMAKE_RUNTIME_OUTPUT_DIRECTORY ${CMAKE_BINARY_DIR}/bin)
set(CMAKE_CXX_FLAGS_RELEASE "-O2 -DNDEBUG")
# Where sanitizers are, clang without optimising builds in half the time; what computes much says so
# (bq_library's HOT).
set(CMAKE_CXX_FLAGS_RELWITHDEBINFO "-O0 -g1")

option(BQ_WARNINGS_AS_ERRORS "Treat warnings as errors" OFF)
option(BQ_BATCHES "Compile sources in batches" ON)
option(BQ_SANITIZE "Address and undefined-behaviour sanitizers" OFF)
option(BQ_THREADS "Thread sanitizer" OFF)

add_compile_options(-Wall -Wextra -Wpedantic -Wshadow -Wno-psabi)
if(CMAKE_CXX_COMPILER_ID STREQUAL "Clang")
  # The standard library's own stable sort calls what it declares deprecated.
  add_compile_options(-Wno-deprecated-declarations)
endif()
if(CMAKE_CXX_COMPILER_ID STREQUAL "GNU")
  # GCC collects its own garbage from 128 MB on, a tenth of the time of a batch; one batch needs less
  # than 1 GB.
  add_compile_options(--param=ggc-min-heapsize=1000000)
endif()
if(BQ_WARNINGS_AS_ERRORS)
  add_compile_options(-Werror -Wno-dangling-else)  # the tests' macros hang an else on ifs
  if(CMAKE_CXX_COMPILER_ID STREQUAL "GNU")
    # Said, but no errors: GCC 12 sees optionals as unset where sanitizers are between; a batch is no
    # source of its own, so what is local in one is told as shared.
    add_compile_options(-Wno-error=maybe-uninitialized -Wno-subobject-linkage)
  endif()
endif()
if(BQ_SANITIZE)
  add_compile_options(-fsanitize=address,undefined -fno-sanitize-recover=all -fno-omit-frame-pointer)
  add_link_options(-fsanitize=address,undefined)
endif()
if(BQ_THREADS)
  add_compile_options(-fsanitize=thread -fno-omit-frame-pointer)
  add_link_options(-fsanitize=thread)
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
  else()
    add_compile_options("SHELL:-Xclang -fno-pch-timestamp")
  endif()
endif()
find_program(MOLD_PROGRAM mold)
if(MOLD_PROGRAM)
  add_link_options(-fuse-ld=mold)
endif()

# bq_library(NAME SOURCES... LINK targets... [LINK_PRIVATE targets...] [PCH headers...] [BATCH n] [LIGHT] [HOT]):
# the library of the folder src/NAME. Includes are written "NAME/header.h"; LINK names the only rooms
# it may see. Sources are compiled in batches (docs/decisions/0016): most of a build is parsing, and a
# batch parses once. LIGHT: code that never runs hot; less optimising builds it much sooner. HOT:
# optimised where sanitizers are, too.
function(bq_library name)
  cmake_parse_arguments(ARG "LIGHT;HOT" "BATCH" "SOURCES;LINK;LINK_PRIVATE;PCH" ${ARGN})
  add_library(bq_${name} STATIC ${ARG_SOURCES})
  add_library(bq::${name} ALIAS bq_${name})
  target_include_directories(bq_${name} PUBLIC ${PROJECT_SOURCE_DIR}/src)
  target_link_libraries(bq_${name} PUBLIC ${ARG_LINK} PRIVATE ${ARG_LINK_PRIVATE})
  if(ARG_LIGHT)
    bq_light(bq_${name} -O1)
  endif()
  if(ARG_HOT)
    target_compile_options(bq_${name} PRIVATE $<$<CONFIG:RelWithDebInfo>:-O1>)
  endif()
  if(ARG_PCH)
    target_precompile_headers(bq_${name} PRIVATE ${ARG_PCH})
  endif()
  if(NOT ARG_BATCH)
    set(ARG_BATCH 16)
  endif()
  bq_batches(bq_${name} ${ARG_BATCH})
endfunction()

# bq_quick_moc(target): its meta-object compiler reads one header, not all below it.
function(bq_quick_moc target)
  get_target_property(moc Qt6::moc LOCATION)
  file(WRITE ${CMAKE_BINARY_DIR}/moc_alone
    "#!/bin/sh\nexec sh ${PROJECT_SOURCE_DIR}/cmake/moc_alone.sh ${moc} \"$@\"\n")
  file(CHMOD ${CMAKE_BINARY_DIR}/moc_alone PERMISSIONS OWNER_READ OWNER_WRITE OWNER_EXECUTE)
  set_target_properties(${target} PROPERTIES AUTOMOC_EXECUTABLE ${CMAKE_BINARY_DIR}/moc_alone)
endfunction()

# bq_light(target level): `level` in a release.
function(bq_light target level)
  target_compile_options(${target} PRIVATE $<$<CONFIG:Release>:${level}>)
endfunction()

function(bq_batches target size)
  set_target_properties(${target} PROPERTIES UNITY_BUILD ${BQ_BATCHES} UNITY_BUILD_BATCH_SIZE ${size})
endfunction()

# bq_hot(files...): fully optimised in a LIGHT room, and compiled apart from its batches.
function(bq_hot)
  set_source_files_properties(${ARGN} PROPERTIES COMPILE_OPTIONS "$<$<CONFIG:Release>:-O2>"
    SKIP_PRECOMPILE_HEADERS ON)
endfunction()

# bq_rooms_first(target rooms...): where a template is in a room and in the target's own sources the
# room's optimised copy is linked. Tests compile without optimising, and the first copy on the link
# line is the one that the rooms, too, would run.
function(bq_rooms_first target)
  list(TRANSFORM ARGN REPLACE "(.+)" "$<TARGET_FILE:\\1>" OUTPUT_VARIABLE files)
  target_link_options(${target} PRIVATE
    "SHELL:-Wl,--whole-archive" ${files} "SHELL:-Wl,--no-whole-archive")
endfunction()
