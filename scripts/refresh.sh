#!/usr/bin/env bash
# Makes again what is generated: demo jobs, the shipped schema, man page and completions, the validation page and the screenshots.
set -eu
cd "$(dirname "$0")/.."
.venv/bin/python scripts/make_demo_jobs.py
.venv/bin/even-stance schema >src/even_stance/exchange/job.schema.json
.venv/bin/python scripts/make_share.py
EVEN_STANCE_VALIDATION=docs/validation.md .venv/bin/python -m pytest -q tests/validation
QT_QPA_PLATFORM=offscreen .venv/bin/even-stance shots docs/screenshots --projects docs/projects
