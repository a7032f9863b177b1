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
            -ffp-contract=off)

if(COMET_SANITIZE)
  target_compile_options(comet_flags INTERFACE -fsanitize=${COMET_SANITIZE} -fno-omit-frame-pointer
                                               -fno-sanitize-recover=all
                                               # GCC 12 warns falsely inside std::regex when it is instrumented.
                                               $<$<CXX_COMPILER_ID:GNU>:-Wno-maybe-uninitialized>)
  target_link_options(comet_flags INTERFACE -fsanitize=${COMET_SANITIZE})
endif()
if(COMET_FUZZ)
  target_compile_options(comet_flags INTERFACE -fsanitize=fuzzer-no-link)
endif()
if(COMET_COVERAGE)
  target_compile_options(comet_flags INTERFACE --coverage)
  target_link_options(comet_flags INTERFACE --coverage)
endif()

# Sources below a folder; a file added to the folder is picked up, so none can be forgotten.
function(comet_sources out folder)
  file(GLOB_RECURSE found CONFIGURE_DEPENDS ${folder}/*.cpp ${folder}/*.h)
  set(${out} ${found} PARENT_SCOPE)
endfunction()
