# Tells CTest of the suites of a test program, one test each: starting a program for each of a thousand small
# tests would take longer than all of them. Suites that are made for values (Where/Suite.Name/Value) stay single
# tests, since those are the long ones.
#
#   comet_discover_suites(program LABELS "quick;full")
function(comet_discover_suites program)
  cmake_parse_arguments(PARSE_ARGV 1 arg "" "LABELS" "")
  set(list ${CMAKE_CURRENT_BINARY_DIR}/${program}_suites.cmake)
  add_custom_command(
    TARGET ${program} POST_BUILD BYPRODUCTS ${list}
    COMMAND ${CMAKE_COMMAND} -DPROGRAM=$<TARGET_FILE:${program}> -DLIST=${list} "-DLABELS=${arg_LABELS}"
            -P ${CMAKE_CURRENT_FUNCTION_LIST_FILE}
    VERBATIM)
  set_property(DIRECTORY APPEND PROPERTY TEST_INCLUDE_FILES ${list})
endfunction()

if(CMAKE_SCRIPT_MODE_FILE)
  set(ENV{QT_QPA_PLATFORM} offscreen)
  execute_process(COMMAND ${PROGRAM} --gtest_list_tests OUTPUT_VARIABLE output COMMAND_ERROR_IS_FATAL ANY)
  string(REPLACE ";" "," output "${output}")
  string(REPLACE "\n" ";" lines "${output}")
  set(script "")
  macro(add name)
    string(APPEND script "add_test([=[${name}]=] [=[${PROGRAM}]=] [=[--gtest_filter=${ARGV1}]=])\n"
                         "set_tests_properties([=[${name}]=] PROPERTIES LABELS [=[${LABELS}]=] TIMEOUT 300)\n")
  endmacro()
  foreach(line ${lines})
    string(REGEX REPLACE " *#.*" "" line "${line}")
    if(line MATCHES "^([A-Za-z0-9_]+)\\.$")
      set(suite "")
      add(${CMAKE_MATCH_1} ${CMAKE_MATCH_1}.*)
    elseif(line MATCHES "^([A-Za-z0-9_/]+)\\.$")
      set(suite ${CMAKE_MATCH_1})
    elseif(suite AND line MATCHES "^  ([A-Za-z0-9_/]+)$")
      add(${suite}.${CMAKE_MATCH_1} ${suite}.${CMAKE_MATCH_1})
    endif()
  endforeach()
  if(script STREQUAL "")
    message(FATAL_ERROR "${PROGRAM} has no tests")
  endif()
  file(WRITE ${LIST} "${script}")
endif()
