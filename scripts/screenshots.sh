#!/usr/bin/env bash
# Takes the pictures in docs/screenshots of the main commands on the demo data. Needs xvfb, xterm, imagemagick, chromium, neovim, fonts-noto-cjk.
set -eu
cd "$(dirname "$0")/.."
export DISPLAY=:97
Xvfb :97 -screen 0 1280x800x24 >/dev/null 2>&1 & server=$!
trap 'kill $server' EXIT
sleep 1
copy=/nowhere
shot() { # name, command, columns
  xterm -fa 'DejaVu Sans Mono' -fs 10 -u8 -geometry "${3:-159}x47+0+0" -e bash -c "clear; echo \"\$ zeitwort ${2//$copy\//}\"; node dist/cli.cjs $2; sleep 30" & local window=$!
  sleep 3
  import -window root "docs/screenshots/$1.png"
  kill $window; wait $window 2>/dev/null || true
}
shot check "check --workspace demo/observatory --locale pl"
shot check-broken "check --workspace demo/broken --locale de"
shot why "why observing-proposal targets[2].name required --locale de --workspace demo/observatory"
shot render "render demo/observatory/violations/bad-proposal.json --workspace demo/observatory --locale de --with-headers"
shot show "show --workspace demo/small"
shot try "try demo/small/payloads/bad-pass.json --form visitor-pass --locale de --with-headers --workspace demo/small"
shot rules "rules --form night-log --workspace demo/observatory"
node scripts/page-screenshots.mjs
shot audit "audit demo/observatory/recordings/last-night.jsonl --workspace demo/observatory"
# What a change means is shown on a copy, with a commit behind it.
copy=$(mktemp -d)
cp -r demo/observatory "$copy/observatory"
git -C "$copy" init -q
git -C "$copy" add .
git -C "$copy" -c user.name=demo -c user.email=demo@harrowfell.example commit -qm before
here=$PWD
zeitwort() { node "$here/dist/cli.cjs" "$@" --workspace "$copy/observatory" >/dev/null; }
zeitwort review --locale de --mark reviewed
zeitwort set --locale en --rule too-faint '{place_start} is far too faint for the echelle spectrograph: its {label} may be {max}.'
zeitwort set --locale ja --rule fits-the-night '{place}の露出は合計{hours}時間です。'
zeitwort unset --locale pl --field nights --rule maximum
sed -i 's/fits-the-night:/one-night:/' "$copy/observatory/rules/observing-proposal.yaml"
shot diff "diff --workspace $copy/observatory"
shot review "review --stale --workspace $copy/observatory"
# An editor on a copy of the workspace with mistakes: what it does a moment after it has begun.
cp -r demo/broken "$copy/broken"
mkdir "$copy/bin"
printf '#!/bin/sh\nexec node %s/dist/cli.cjs "$@"\n' "$here" > "$copy/bin/zeitwort"
chmod +x "$copy/bin/zeitwort"
editor() { # name, file, keys
  (cd "$copy/broken" && PATH="$copy/bin:$PATH" exec xterm -fa 'DejaVu Sans Mono' -fs 10 -u8 -geometry 159x47+0+0 -e \
    nvim --clean -n --cmd "luafile $here/docs/guide/examples/neovim.lua" -c 'set number nowrap' \
    -c "call timer_start(4000, {-> feedkeys(\"$3\", 't')})" "$2") & local window=$!
  sleep 8
  import -window root "docs/screenshots/$1.png"
  kill $window; wait $window 2>/dev/null || true
}
editor editor-hover messages/en.json '/minLength\<CR>f{lK'
editor editor-completion messages/pl.json '/\x22messages\<CR>o\x22maxLength\x22: \x22{\<C-x>\<C-o>'
rm -rf "$copy"
