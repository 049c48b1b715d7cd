#!/usr/bin/env bash
# SPDX-License-Identifier: Apache-2.0
# fetch.sh FOLDER: the pictures to train on, out of Debian packages, a folder for each.
set -euo pipefail
folder=$(realpath -m "$1")
packages=(endless-sky-data freeorion-data gnome-backgrounds lomiri-wallpapers-20.04 openarena-081-textures
  supertuxkart-data tuxpaint-stamps-default ufoai-textures ukui-wallpapers)
mkdir -p "$folder"
for package in "${packages[@]}"; do
  [ -d "$folder/$package" ] && continue
  work=$(mktemp -d)
  (cd "$work" && apt-get download -qq "$package" && dpkg-deb -x ./*.deb unpacked)
  # Textures of games lie in archives of their own.
  find "$work/unpacked" -name '*.pk3' | while read -r archive; do
    mkdir -p "$work/unpacked/pk"
    (cd "$work/unpacked/pk" && cmake -E tar xf "$archive")
  done
  mv "$work/unpacked" "$folder/$package"
  rm -r "$work"
done
