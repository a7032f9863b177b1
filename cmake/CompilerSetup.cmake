# Language level, warnings, floating-point contract, sanitizers and compiler cache: the same for every target.

set(CMAKE_CXX_STANDARD 20)
set(CMAKE_CXX_STANDARD_REQUIRED ON)
set(CMAKE_CXX_EXTENSIONS OFF)

if(NOT CMAKE_BUILD_TYPE)
  set(CMAKE_BUILD_TYPE Release CACHE STRING "" FORCE)
endif()

find_program(COMET_CCACHE ccache)
if(COMET_CCACHE)
  # Precompiled headers are cached only if time stamps inside them are ignored.
  set(CMAKE_CXX_COMPILER_LAUNCHER
      ${CMAKE_COMMAND} -E env CCACHE_SLOPPINESS=pch_defines,time_macros,include_file_mtime,include_file_ctime
      ${COMET_CCACHE})
endif()

add_library(comet_flags INTERFACE)
target_compile_options(
  comet_flags
  INTERFACE -Wall
            -Wextra
            -Wpedantic
            -Wshadow
            -Wnon-virtual-dtor
            -Werror
            # Results must not depend on whether the compiler fuses multiplies and adds.
            -ffp-contract=off
            # Loops with roots and choices can use whole vectors; no result changes.
            -fno-math-errno
            -fno-trapping-math)

if(COMET_SANITIZE)
  target_compile_options(comet_flags INTERFACE -fsanitize=${COMET_SANITIZE} -fno-omit-frame-pointer
                                               -fno-sanitize-recover=all
                                               # GCC 12 warns falsely inside std::regex when it is instrumented.
                                               $<$<CXX_COMPILER_ID:GNU>:-Wno-maybe-uninitialized>)
  target_link_options(comet_flags INTERFACE -fsanitize=${COMET_SANITIZE})
endif()
if(COMET_BATCH_SIZE GREATER 1)
  # Told of a type that is hidden in a source, because the source is included by that of its batch.
  target_compile_options(comet_flags INTERFACE $<$<CXX_COMPILER_ID:GNU>:-Wno-subobject-linkage>)
endif()
if(COMET_FUZZ)
  target_compile_options(comet_flags INTERFACE -fsanitize=fuzzer-no-link)
endif()
if(COMET_COVERAGE)
  target_compile_options(comet_flags INTERFACE --coverage)
  target_link_options(comet_flags INTERFACE --coverage)
endif()

# Headers of libraries that most sources parse: read once for a target.
set(COMET_COMMON_HEADERS
    <algorithm> <array> <atomic> <chrono> <cmath> <cstdint> <functional> <limits> <map> <memory> <mutex> <numeric> <optional>
    <set> <string> <string_view> <variant> <vector> <fmt/format.h> <glm/glm.hpp> <glm/gtc/quaternion.hpp>)

# For what hands the work to core: all computation is there, so the rest need not be fast, but soon built.
set(COMET_SOON_BUILT $<$<CONFIG:Release>:-O1>)

# Compiles the sources of a target in batches, which takes a third of the time. Those given stay on their own: they
# include themselves once for each kind of processor.
function(comet_batches target)
  if(COMET_BATCH_SIZE GREATER 1)
    set_target_properties(${target} PROPERTIES UNITY_BUILD ON UNITY_BUILD_BATCH_SIZE ${COMET_BATCH_SIZE})
    set_source_files_properties(${ARGN} PROPERTIES SKIP_UNITY_BUILD_INCLUSION ON)
  endif()
endfunction()

# Sources below a folder; a file added to the folder is picked up, so none can be forgotten.
function(comet_sources out folder)
  file(GLOB_RECURSE found CONFIGURE_DEPENDS ${folder}/*.cpp ${folder}/*.h)
  set(${out} ${found} PARENT_SCOPE)
endfunction()
