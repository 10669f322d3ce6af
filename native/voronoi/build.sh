#!/usr/bin/env bash
# Rebuilds voronoi.wasm, byte for byte. Needs Debian's clang lld wasi-libc libc++-dev-wasm32
# libclang-rt-14-dev-wasm32 libboost-dev. Usage: build.sh [OUTPUT]
set -euo pipefail
here=$(cd "$(dirname "$0")" && pwd)
out=${1:-$here/../../resources/voronoi.wasm}
inc=$(mktemp -d)
trap 'rm -rf "$inc"' EXIT
ln -s /usr/include/boost "$inc/boost"
cd "$here"
clang++ --target=wasm32-wasi -O2 -DNDEBUG -std=c++17 -fno-exceptions -DBOOST_NO_EXCEPTIONS \
  -Wno-non-c-typedef-for-linkage -mexec-model=reactor -I"$inc" shim.cpp -o "$out"
