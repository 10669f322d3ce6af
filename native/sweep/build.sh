#!/usr/bin/env bash
# Rebuilds the sweep's module, byte for byte, as text that the bundle carries. Needs Debian's clang lld wasi-libc
# libclang-rt-14-dev-wasm32 libc++-dev-wasm32. Usage: build.sh [OUTPUT]
set -euo pipefail
here=$(cd "$(dirname "$0")" && pwd)
out=${1:-$here/../../src/core/removal/kernelBytes.ts}
made=$(mktemp)
trap 'rm -f "$made"' EXIT
clang++ --target=wasm32-wasi -O3 -msimd128 -fno-math-errno -DNDEBUG -std=c++17 -fno-exceptions -fno-rtti -mnontrapping-fptoint -mexec-model=reactor -nostartfiles \
  -Wl,--no-entry -Wl,--import-memory -Wl,--strip-all -Wl,-z,stack-size=65536 "$here/kernel.cpp" -o "$made"
{
  echo '// Made by native/sweep/build.sh from kernel.cpp; not to be edited.'
  echo "export const KERNEL_BYTES = '$(base64 -w0 "$made")';"
} > "$out"
