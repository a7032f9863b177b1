# Libraries that more than one part of the tree links; all from the distribution's packages.

find_package(TBB REQUIRED)
find_package(glm REQUIRED)
find_package(nlohmann_json REQUIRED)
find_package(fmt REQUIRED)
find_package(hwy REQUIRED)
find_package(Eigen3 REQUIRED NO_MODULE)
find_package(muparser REQUIRED)
find_package(meshoptimizer REQUIRED)
find_package(astcenc REQUIRED)
# Through pkg-config: the package's CMake target names include folders of libraries that it only needs itself.
find_package(PkgConfig REQUIRED)
pkg_check_modules(OpenImageIO REQUIRED IMPORTED_TARGET OpenImageIO)
pkg_check_modules(assimp REQUIRED IMPORTED_TARGET assimp)
pkg_check_modules(FFmpeg REQUIRED IMPORTED_TARGET libavformat libavcodec libavutil libswscale)
pkg_check_modules(seccomp REQUIRED IMPORTED_TARGET libseccomp)
find_library(COMET_XXHASH xxhash REQUIRED)
find_library(COMET_SQUISH squish REQUIRED)
# The package's own module looks for parts that it does not come with.
find_library(COMET_OPENVDB openvdb REQUIRED)
find_package(Imath REQUIRED)
find_library(COMET_EMBREE embree3 REQUIRED)
