#!/bin/sh
# Rebuilds the demo photos from scene.pov. Needs POV-Ray and the Python package pillow; the program itself needs neither.
set -eu
cd "$(dirname "$0")"
for stage in ${*:-1 2 3 4 5 6 7 8 9 10 11 12}; do
  out=$(printf 'photos/tide-logger-%02d' "$stage")
  povray +Iscene.pov +O"$out.png" +W1200 +H900 +A0.2 -D -GA Declare=Stage="$stage" >/dev/null 2>"$out.log" || { cat "$out.log"; exit 1; }
  "${PYTHON:-python3}" -c "import sys; from PIL import Image; Image.open(sys.argv[1]).convert('RGB').save(sys.argv[2], quality=82)" "$out.png" "$out.jpg"
  rm -f "$out.png" "$out.log"
done
