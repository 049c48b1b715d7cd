# SPDX-License-Identifier: Apache-2.0
# Installs the library, takes the example out of docs/library.md, builds it both ways against what was installed,
# and paints with it.
#   cmake -DBUILD=... -DSOURCE=... -DWORK=... -DCOMPILER=... -P install_and_use.cmake
cmake_minimum_required(VERSION 3.22)

function(run)
  execute_process(COMMAND ${ARGV} WORKING_DIRECTORY ${WORK} RESULT_VARIABLE code OUTPUT_VARIABLE said ERROR_VARIABLE said)
  if(NOT code EQUAL 0)
    message(FATAL_ERROR "${ARGV}\nfailed:\n${said}")
  endif()
  set(said "${said}" PARENT_SCOPE)
endfunction()

# The first block of this language in the page.
function(write_block language file)
  file(READ ${SOURCE}/docs/library.md page)
  string(FIND "${page}" "```${language}\n" begin)
  string(LENGTH "```${language}\n" skip)
  math(EXPR begin "${begin} + ${skip}")
  string(SUBSTRING "${page}" ${begin} -1 page)
  string(FIND "${page}" "\n```" end)
  string(SUBSTRING "${page}" 0 ${end} block)
  file(WRITE ${WORK}/${file} "${block}\n")
endfunction()

file(REMOVE_RECURSE ${WORK})
file(MAKE_DIRECTORY ${WORK})
run(${CMAKE_COMMAND} --install ${BUILD} --prefix ${WORK}/prefix --component library)
write_block(cpp paint_one.cpp)
write_block(cmake CMakeLists.txt)

# Every header that was installed stands, and needs none that was not.
file(GLOB_RECURSE headers RELATIVE ${WORK}/prefix/include/jugendstil ${WORK}/prefix/include/jugendstil/*.h)
list(LENGTH headers count)
if(count LESS 50)
  message(FATAL_ERROR "only ${count} headers were installed")
endif()
set(all "")
foreach(header ${headers})
  string(APPEND all "#include \"${header}\"\n")
endforeach()
file(WRITE ${WORK}/all.cpp "${all}")

run(${CMAKE_COMMAND} -S . -B by_cmake -DCMAKE_PREFIX_PATH=${WORK}/prefix -DCMAKE_CXX_COMPILER=${COMPILER} -DCMAKE_CXX_STANDARD=20)
string(REGEX MATCH "network: ([^\n]*)" found "${said}")
set(network ${CMAKE_MATCH_1})
run(${CMAKE_COMMAND} --build by_cmake)
run(by_cmake/paint_one ${SOURCE}/demo/photos/gate.jpg ${SOURCE}/demo/references/evening_impasto.jpg ${network} a.png
  long-edge 64 steps 2 levels 1 brushwork no)
if(NOT said MATCHES "a.png: 64x43" OR NOT EXISTS ${WORK}/a.png)
  message(FATAL_ERROR "it said: ${said}")
endif()

file(GLOB_RECURSE pc ${WORK}/prefix/jugendstil.pc)
get_filename_component(pc ${pc} DIRECTORY)
set(ENV{PKG_CONFIG_PATH} ${pc})
run(pkg-config --cflags --libs jugendstil)
separate_arguments(flags UNIX_COMMAND "${said}")
run(${COMPILER} -fsyntax-only all.cpp ${flags})
run(${COMPILER} paint_one.cpp -o by_pkg_config ${flags})
run(pkg-config --variable=network jugendstil)
string(STRIP "${said}" network)
run(${WORK}/by_pkg_config ${SOURCE}/demo/photos/gate.jpg ${SOURCE}/demo/references/evening_impasto.jpg ${network} b.png
  long-edge 64 steps 2 levels 1 brushwork no)
file(SHA256 ${WORK}/a.png a)
file(SHA256 ${WORK}/b.png b)
if(NOT a STREQUAL b)
  message(FATAL_ERROR "the two programs painted different pictures")
endif()
execute_process(COMMAND by_cmake/paint_one missing.jpg x x x WORKING_DIRECTORY ${WORK} RESULT_VARIABLE code ERROR_VARIABLE said)
if(NOT code EQUAL 1 OR NOT said MATCHES "missing.jpg: no such file")
  message(FATAL_ERROR "a missing photo: ${code} ${said}")
endif()
