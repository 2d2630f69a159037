#!/usr/bin/env bash
# Runs scripts/bench-gate.ts with a database of its own.
set -euo pipefail
cd "$(dirname "$0")/.."
CACHE="$PWD/.cache"
mkdir -p "$CACHE"
. scripts/setup.sh
need_packages postgresql ffmpeg util-linux
trap stop_database EXIT
trap 'exit 1' INT TERM
start_database "$CACHE/test"
export UMBRASTAT_TEST_CLUSTER="$PG_ADDRESS" UMBRASTAT_TEST_TEMPLATE=bench_template
make_database "$UMBRASTAT_TEST_TEMPLATE"
node --require tsx/cjs scripts/make-template.ts "$PG_ADDRESS/$UMBRASTAT_TEST_TEMPLATE"
node --require tsx/cjs scripts/bench-gate.ts
