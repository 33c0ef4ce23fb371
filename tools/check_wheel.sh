#!/usr/bin/env bash
# Builds the wheel, installs it in a clean environment outside the checkout, and uses it there: command line, window, what it brings for the desktop.
set -eu
here="$(cd "$(dirname "$0")/.." && pwd)"
work="$(mktemp -d)"
trap 'rm -rf "$work"' EXIT
for tool in desktop-file-validate:desktop-file-utils appstreamcli:appstream update-mime-database:shared-mime-info; do
    command -v "${tool%%:*}" >/dev/null || missing="${missing:-} ${tool##*:}"
done
if [ -n "${missing:-}" ]; then
    [ "$(id -u)" = 0 ] || { echo "missing:$missing" >&2; exit 3; }
    apt-get update -qq >/dev/null && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $missing >/dev/null
fi
mkdir "$work/tree" "$work/run"
(cd "$here" && git ls-files -z | xargs -0 cp --parents -t "$work/tree") # what is not in the repository is not in the wheel
"$here/.venv/bin/python" -m pip wheel -q --disable-pip-version-check --no-deps -w "$work" "$work/tree"
"$here/.venv/bin/python" -m venv "$work/env"
"$work/env/bin/python" -m pip install -q --disable-pip-version-check --require-hashes -r "$here/requirements/run.lock"
"$work/env/bin/python" -m pip install -q --disable-pip-version-check --no-deps "$work"/weirant-*.whl
"$work/env/bin/python" -m pip check
cd "$work/run"
export HOME="$work/run" XDG_STATE_HOME="$work/run/state" XDG_CONFIG_HOME="$work/run/config" XDG_CACHE_HOME="$work/run/cache"
unset PYTHONPATH
weirant="$work/env/bin/weirant"
"$weirant" --version
code=0; "$weirant" check demo >found.txt || code=$?
[ "$code" = 1 ] && grep -q '^fails' found.txt # the demo has one real fault
"$weirant" report demo -o owner.pdf && head -c 5 owner.pdf | grep -q '%PDF-'
"$work/env/bin/python" -c "from weirant.handbook import pages; assert len(pages()) > 10"
QT_QPA_PLATFORM=offscreen WEIRANT_STOP_WHEN_SHOWN=1 timeout 60 "$weirant" demo
share="$work/env/share"
desktop-file-validate "$share"/applications/*.desktop
appstreamcli validate --no-net "$share"/metainfo/*.xml
mkdir -p mime/packages && cp "$share"/mime/packages/*.xml mime/packages/ && XDG_DATA_HOME="$work/run" update-mime-database mime 2>&1 | (! grep -i error)
grep -q 'application/x-weirant+json' mime/globs
[ -s "$share/icons/hicolor/scalable/apps/weirant.svg" ] && [ -s "$share/man/man1/weirant.1" ] && bash -n "$share/bash-completion/completions/weirant"
echo "the wheel works"
