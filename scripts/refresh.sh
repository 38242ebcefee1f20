#!/usr/bin/env bash
# Makes again what is generated: demo jobs, the shipped schema and the screenshots.
set -eu
cd "$(dirname "$0")/.."
.venv/bin/python scripts/make_demo_jobs.py
.venv/bin/even-stance schema >src/even_stance/exchange/job.schema.json
QT_QPA_PLATFORM=offscreen .venv/bin/even-stance shots docs/screenshots
