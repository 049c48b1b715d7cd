#!/usr/bin/env bash
# SPDX-License-Identifier: Apache-2.0
# The one script: ./do demo | test | build | bench | quality | fuzz | attack | faults | kill | train | format | tidy | figures | sanitize | package | demo-pictures
set -euo pipefail
cd "$(dirname "$0")"

packages=(g++ cmake ninja-build pkg-config ccache clang-format
  libdnnl-dev libopenimageio-dev libopencolorio-dev libonnx-dev libprotobuf-dev protobuf-compiler liblcms2-dev libeigen3-dev
  zlib1g-dev libtomlplusplus-dev libfmt-dev nlohmann-json3-dev libboost-program-options-dev
  libavformat-dev libavcodec-dev libavutil-dev libswscale-dev libswresample-dev
  librsvg2-dev libpango1.0-dev libarchive-dev libsqlite3-dev libpugixml-dev libseccomp-dev
  libopencv-core-dev libopencv-imgproc-dev libopencv-video-dev libopencv-objdetect-dev libopencv-dnn-dev opencv-data
  libgtest-dev libgmock-dev libbenchmark-dev fonts-dejavu-core)
test_packages=(chromium zsh fish) # open the pages and take the completions that are written

install_missing() {
  local missing=()
  for p in "$@"; do
    dpkg-query -W -f='${db:Status-Status}' "$p" 2>/dev/null | grep -qx installed || missing+=("$p")
  done
  [ ${#missing[@]} -eq 0 ] && return
  if [ "$(id -u)" -ne 0 ]; then
    echo "These packages are missing. Install them and try again:" >&2
    echo "  sudo apt-get install --no-install-recommends ${missing[*]}" >&2
    exit 1
  fi
  echo "installing ${missing[*]}"
  apt-get update -qq
  DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
}

build() { # preset
  install_missing "${packages[@]}"
  # A compiler cache speeds a second build up and is in nobody's way on the first. The rest is what it needs to
  # know about precompiled headers.
  export CCACHE_SLOPPINESS=pch_defines,time_macros,include_file_mtime,include_file_ctime
  cmake --preset "$1" -DCMAKE_CXX_COMPILER_LAUNCHER=ccache "${@:2}" >/dev/null
  cmake --build --preset "$1"
}

format() { # extra arguments of clang-format
  git ls-files -co --exclude-standard '*.cpp' '*.h' | xargs clang-format "$@"
}

# The sources that differ from what was there a day before the newest commit, the last changed first.
changed_sources() {
  local base
  base=$(git rev-list -1 --before=$(($(git log -1 --format=%ct) - 86400)) HEAD)
  { git diff --name-only HEAD
    git ls-files -o --exclude-standard
    git log --format= --name-only "${base:+$base..}HEAD"; } | grep -E '^src/.*\.cpp$' | awk '!seen[$0]++' |
    while read -r file; do [ ! -f "$file" ] || echo "$file"; done
}

tidy() { # how many at most
  install_missing "${packages[@]}" clang-tidy
  cmake --preset tidy >/dev/null
  head -n "$1" | xargs -r -P "$(nproc)" -n 1 \
    clang-tidy -p build/tidy --quiet --warnings-as-errors='*' 2> >(grep -v "warnings generated" >&2)
}

case "${1:-}" in
  build) build release -DJUGENDSTIL_BENCH=ON ;;
  demo)
    build release
    build/release/jugendstil demo build/demo --force "${@:2}" ;;
  test)
    install_missing "${test_packages[@]}"
    build release
    ctest --preset release ;;
  sanitize)
    install_missing "${test_packages[@]}"
    build asan-ubsan -DJUGENDSTIL_BENCH=ON
    ctest --preset asan-ubsan ;;
  fuzz) # [TARGET|all [SECONDS]]
    install_missing "${packages[@]}" clang libclang-rt-14-dev libomp-dev
    build fuzz
    for target in $([ "${2:-all}" = all ] && ls fuzz/corpus || echo "$2"); do
      mkdir -p "build/fuzz-corpus/$target"
      echo "$target"
      # What is found lands in build/fuzz-found; leaks are looked for at the end only, libraries keep some.
      mkdir -p build/fuzz-found
      JUGENDSTIL_FUZZ=$target GOMP_SPINCOUNT=2000 ASAN_OPTIONS=detect_leaks=0 build/fuzz/fuzz/jugendstil_fuzzer \
        -max_total_time="${3:-60}" -timeout=20 -rss_limit_mb=4096 -max_len=65536 -print_final_stats=0 -verbosity=0 \
        -dict=fuzz/words.dict -artifact_prefix="build/fuzz-found/$target-" "build/fuzz-corpus/$target" "fuzz/corpus/$target"
    done ;;
  attack) # SECONDS [SEED]
    build release
    cmake --build --preset release --target jugendstil_attack
    build/release/fuzz/jugendstil_attack "${2:-3600}" "${@:3}" ;;
  kill) # [TIMES [paint|film|grade|demo]]
    build release
    cmake --build --preset release --target jugendstil_kill
    build/release/fuzz/jugendstil_kill "${2:-100}" "${@:3}" ;;
  faults) # one failing call of the system after the other
    build release
    JUGENDSTIL_EVERY_FAULT=1 build/release/tests/cli_tests --gtest_filter='*Injected*' ;;
  bench)
    build release -DJUGENDSTIL_BENCH=ON
    export GOMP_SPINCOUNT=2000 # as the program does it
    build/release/bench/jugendstil_bars
    build/release/bench/jugendstil_grade_bars
    build/release/bench/jugendstil_film_bars
    build/release/bench/jugendstil_weave_bars
    build/release/bench/jugendstil_amplify_bars
    build/release/bench/jugendstil_network_bars
    if /usr/bin/python3 -c 'import torch' 2>/dev/null; then
      /usr/bin/python3 bench/framework_step.py build/release/bench/jugendstil_network_bars
    fi
    build/release/bench/jugendstil_dive_bars
    build/release/bench/jugendstil_shelf_bars
    build/release/bench/jugendstil_suits
    build/release/bench/jugendstil_learn_bars
    build/release/bench/jugendstil_tiles
    build/release/bench/jugendstil_proofs
    build/release/bench/jugendstil_foretold
    build/release/bench/jugendstil_solvers
    build/release/bench/jugendstil_parts ;;
  quality)
    build release -DJUGENDSTIL_BENCH=ON
    export GOMP_SPINCOUNT=2000
    build/release/bench/jugendstil_quality ;;
  train)
    build release -DJUGENDSTIL_TRAINING=ON
    training/fetch.sh build/training/pictures
    build/release/training/jugendstil_train build/training/pictures build/training networks/general.onnx "${2:-9000}" ;;
  format)
    install_missing clang-format
    format -i ;;
  tidy)
    if [ "${2:-}" = --all ]; then git ls-files 'src/*.cpp' | tidy 10000; else changed_sources | tidy "${2:-10000}"; fi ;;
  check-format)
    install_missing clang-format
    format --dry-run --Werror ;;
  figures)
    build release -DJUGENDSTIL_BENCH=ON
    build/release/jugendstil demo build/figures --all --force
    cp build/figures/sheet.png docs/screenshots/demo.png
    # Painted above, woven below.
    references=(evening_impasto sun_lily_mosaic moon_linocut lily_poster)
    build/release/jugendstil paint demo/photos/palm_house.jpg --after demo/references/lily_poster.jpg \
      --long-edge 768 -o build/figures/palm_house-after-lily_poster.png --force
    for reference in "${references[@]}"; do
      build/release/jugendstil weave "demo/references/$reference.jpg" --along demo/photos/palm_house.jpg \
        --long-edge 768 -o "build/figures/woven-$reference.png" --force
    done
    references=("${references[@]/%/.png}")
    build/release/jugendstil compare "${references[@]/#/build/figures/palm_house-after-}" \
      "${references[@]/#/build/figures/woven-}" --view sheet -o docs/screenshots/paint-or-weave.png --force
    # Paintings at 100 %; lines over two; and a part that is held.
    build/release/jugendstil paint demo/photos/gate.jpg --after demo/references/evening_impasto.jpg \
      --long-edge 1024 -o build/figures/whole-gate.png --force
    build/release/jugendstil paint demo/photos/palm_house.jpg --after demo/references/moon_linocut.jpg \
      --long-edge 1024 -o build/figures/whole-palm.png --force
    build/release/jugendstil paint demo/photos/palm_house.jpg --after demo/references/moor_wash.jpg --lines 70 \
      --long-edge 640 -o build/figures/lined-palm.png --force
    build/release/jugendstil paint demo/photos/potting_bench.jpg --after demo/references/lily_poster.jpg --lines 80 \
      --long-edge 640 -o build/figures/lined-bench.png --force
    build/release/jugendstil mask demo/photos/palm_house.jpg --box 420,120,440,330 -o build/figures/dome.png --force
    build/release/jugendstil paint demo/photos/palm_house.jpg --after demo/references/sun_lily_mosaic.jpg \
      --likeness 10 --hold build/figures/dome.png=90 --long-edge 640 -o build/figures/held-palm.png --force
    echo '<body style="margin:20px;background:#ecebe8"><style>div{width:614px;height:410px;display:inline-block;
      margin:0 8px 8px 0}img{width:407px;margin-right:8px}</style>
      <div style="background:url(whole-gate.png) -60px -40px"></div><div style="margin-right:0;
      background:url(whole-palm.png) -200px -120px"></div><br><img src="lined-palm.png"><img src="lined-bench.png"><img
      src="held-palm.png" style="margin-right:0">' >build/figures/quality.html
    install_missing "${test_packages[@]}"
    chromium --headless --no-sandbox --disable-gpu --hide-scrollbars --window-size=1280,740 \
      --screenshot=docs/screenshots/quality.png "file://$PWD/build/figures/quality.html" 2>/dev/null
    # Masks and parts, and a table of drafts.
    build/release/jugendstil mask demo/photos/potting_bench.jpg --box 60,60,420,620 -o build/figures/plant.png \
      --check build/figures/mask-check.png --force
    build/release/jugendstil mask demo/photos/palm_house.jpg --box 0,0,1280,330 -o build/figures/sky.png --force
    build/release/jugendstil paint demo/photos/palm_house.jpg --after demo/references/evening_impasto.jpg \
      --part build/figures/sky.png=demo/references/sun_lily_mosaic.jpg --long-edge 768 \
      -o build/figures/paint-parts.png --chart build/figures/loss-chart.png --force
    build/release/jugendstil compare build/figures/paint-parts.png build/figures/mask-check.png --view sheet \
      -o docs/screenshots/parts.png --force
    build/release/jugendstil paint demo/photos/*.jpg --after demo/references/evening_impasto.jpg \
      --after demo/references/sun_lily_mosaic.jpg --after demo/references/moon_linocut.jpg \
      --after demo/references/lily_poster.jpg --after demo/references/moor_wash.jpg --each --long-edge 320 \
      -o build/figures/table/ --force
    cp build/figures/table/sheet.png docs/screenshots/table.png
    # The five measures of style, and the two solvers.
    build/release/jugendstil paint demo/photos/palm_house.jpg demo/photos/potting_bench.jpg \
      --after demo/references/evening_impasto.jpg --after demo/references/sun_lily_mosaic.jpg --each \
      --vary measure=gram,moments,sliced,neighbours,critic --long-edge 320 -o build/figures/measures/ --force
    cp build/figures/measures/sheet.png docs/screenshots/measures.png
    build/release/bench/jugendstil_solvers build/figures/solvers.png
    build/release/jugendstil compare build/figures/loss-chart.png build/figures/solvers.png --view sheet \
      -o docs/screenshots/charts.png --force
    # Pictures compared, and the page as a browser shows it.
    build/release/jugendstil compare demo/photos/palm_house.jpg build/figures/palm_house-after-evening_impasto.png \
      build/figures/palm_house-after-moon_linocut.png --photo demo/photos/palm_house.jpg \
      --after demo/references/evening_impasto.jpg -o build/figures/compare.html --force
    chromium --headless --no-sandbox --disable-gpu --hide-scrollbars --window-size=1280,980 \
      --screenshot=build/figures/page.png "file://$PWD/build/figures/compare.html" 2>/dev/null
    chromium --headless --no-sandbox --disable-gpu --hide-scrollbars --window-size=1280,960 \
      --screenshot=docs/screenshots/demo-page.png "file://$PWD/build/figures/index.html" 2>/dev/null
    build/release/jugendstil compare demo/photos/palm_house.jpg build/figures/palm_house-after-evening_impasto.png \
      build/figures/palm_house-after-moon_linocut.png --view crops -o build/figures/places.png --force
    build/release/jugendstil compare build/figures/page.png build/figures/places.png --view sheet \
      -o docs/screenshots/compare.png --force
    chromium --headless --no-sandbox --disable-gpu --hide-scrollbars --window-size=1280,680 \
      --screenshot=docs/screenshots/shelf.png "file://$PWD/build/figures/shelf.html" 2>/dev/null
    cp build/figures/grade-sheet.png docs/screenshots/grade-sheet.png
    cp build/figures/gate-after-silver_rain.chart.png docs/screenshots/grade-chart.png
    cp build/figures/weave-sheet.png docs/screenshots/weave-sheet.png
    cp build/figures/amplify-sheet.png docs/screenshots/amplify.png
    # What bands know of a reference, and what one of them responds to.
    build/release/jugendstil network --growth demo/references/moon_linocut.jpg -o build/figures/growth.png --force
    build/release/jugendstil network --show medium -o build/figures/channels.png --force
    echo '<body style="margin:20px;background:#ecebe8"><img src="growth.png" width="780"><br>
      <img src="channels.png" width="1240">' >build/figures/network.html
    chromium --headless --no-sandbox --disable-gpu --hide-scrollbars --window-size=1280,1090 \
      --screenshot=docs/screenshots/network.png "file://$PWD/build/figures/network.html" 2>/dev/null
    cp build/figures/dive-sheet.png docs/screenshots/dive.png
    cp build/figures/film-sheet.png docs/screenshots/film-sheet.png
    cp build/figures/pond-after-evening_impasto.chart.png docs/screenshots/film-chart.png
    # The demo's painter, how it learned, and the clip by it.
    for how in yes no; do
      build/release/jugendstil film demo/clip/pond.mp4 --with build/figures/pond.painter.onnx --from 40 --frames 1 \
        "--brushwork=$how" -o "build/figures/brushwork-$how-%02d.png" --force
    done
    echo '<body style="margin:20px;background:#ecebe8"><img src="pond.painter.steps.png" width="1240"><br>
      <img src="brushwork-no-40.png" width="612"> <img src="brushwork-yes-40.png" width="612">' >build/figures/learn.html
    chromium --headless --no-sandbox --disable-gpu --hide-scrollbars --window-size=1280,870 \
      --screenshot=docs/screenshots/learn.png "file://$PWD/build/figures/learn.html" 2>/dev/null ;;
  package)
    build release
    (cd build/release && cpack -G DEB) ;;
  demo-pictures)
    install_missing povray povray-includes ffmpeg
    build release -DJUGENDSTIL_DEMO_MAKE=ON
    mkdir -p build/scenes
    # scene, view, where the photo goes, seed of its grain, print
    while read -r scene view photo seed print; do
      (cd demo/make/scenes && povray -D "+I$scene.pov" "Declare=View=$view" "+O../../../build/scenes/$scene$view.png" +W1280 +H853 +A0.12 +AM2 +R2 +FN16)
      build/release/demo/make/make_demo photo "build/scenes/$scene$view.png" "demo/$photo.jpg" "$seed" $print
    done <<'SCENES'
palm_house 0 photos/palm_house 1
potting_bench 0 photos/potting_bench 2
gate 0 photos/gate 3
corridor 0 photos/corridor 4
palm_house 4 photos/lily_pond 8
palm_house 1 photo_references/amber_dusk 5 faded
palm_house 2 photo_references/silver_rain 6 crisp
palm_house 3 photo_references/noon 7 vivid
SCENES
    build/release/demo/make/make_demo references demo/references
    # Swatches, as one cuts them out of a photo from above.
    mkdir -p demo/swatches
    while read -r view swatch; do
      (cd demo/make/scenes && povray -D +Iswatches.pov "Declare=View=$view" "+O../../../build/scenes/$swatch.png" +W256 +H256 +A0.2 +R2 +WT1)
      build/release/demo/make/make_demo photo "build/scenes/$swatch.png" "demo/swatches/$swatch.png" "$((view + 11))" flat
    done <<'SWATCHES'
0 moss
1 rattan
2 glaze
3 gravel
SWATCHES
    # The clip: four passes of each of 96 frames (about an hour), then grain, true motion, and a sound of water.
    for i in $(seq 0 95); do
      for pass in 0 1 2 3; do
        quality=(-A File_Gamma=1.0 Bits_Per_Color=16)
        [ "$pass" -ne 0 ] || quality=(+A0.25 +AM2 +R2)
        (cd demo/make/scenes && povray -D +Ipalm_house.pov Declare=View=5 "Declare=Time=$(awk "BEGIN{print $i/95}")" \
          "Declare=Pass=$pass" "+O../../../build/scenes/$(printf 'pass%d_%05d.png' "$pass" "$i")" +W640 +H360 +WT1 "${quality[@]}")
      done
    done
    mkdir -p demo/clip
    build/release/demo/make/make_demo clip build/scenes demo/clip
    ffmpeg -v error -y -i demo/clip/pond.silent.mp4 -f lavfi -i "anoisesrc=color=brown:amplitude=0.25:seed=7:duration=4,highpass=f=200,tremolo=f=0.6:d=0.5" \
      -c:v copy -c:a aac -b:a 64k -shortest -fflags +bitexact -flags +bitexact demo/clip/pond.mp4
    rm demo/clip/pond.silent.mp4 ;;
  *)
    sed -n '2s/^# //p' "$0" >&2
    exit 2 ;;
esac
