# Everything runs from a clean clone: the first use sets up, later uses start at once.
PYTHON ?= python3.11
PY := .venv/bin/python
# What is compiled once need not be again: each start is half as long.
unexport PYTHONDONTWRITEBYTECODE

.PHONY: demo test quick lint bench hostile mutate shots check clean schema docs lock

.venv/.run: requirements.txt pyproject.toml
	@command -v $(PYTHON) >/dev/null || { echo "Python 3.11 is needed (set PYTHON= to where it is)."; exit 1; }
	@test -x $(PY) || $(PYTHON) -m venv .venv
	@$(PY) -m pip install -q --disable-pip-version-check --require-hashes -r requirements.txt
	@$(PY) -m pip install -q --disable-pip-version-check --no-deps -e . >.venv/install.log 2>&1 || { cat .venv/install.log; exit 1; }
	@touch $@

.venv/.test: .venv/.run requirements-test.txt
	@$(PY) -m pip install -q --disable-pip-version-check --require-hashes -r requirements-test.txt
	@touch $@

demo: .venv/.run
	@exec $(PY) manage.py demo

test: .venv/.test
	@scripts/need_tools.sh
	@$(MAKE) -s lint
	@ZINC_LATCH_DATA=$$(mktemp -d) $(PY) -m pytest -q -n 2 --dist worksteal

# The fast lane: everything but the browser, other processes and what is random by the hundred.
quick: .venv/.test
	@$(MAKE) -s lint
	@ZINC_LATCH_DATA=$$(mktemp -d) $(PY) -m pytest -q -n 2 --dist worksteal -m "not slow" tests/core tests/drawings tests/console tests/web latchcore

lint: .venv/.test
	@.venv/bin/ruff check .
	@.venv/bin/ruff format --check -q .
	@.venv/bin/lint-imports > .venv/imports.log || { cat .venv/imports.log; exit 1; }
	@.venv/bin/mypy

bench: .venv/.test
	@ZINC_LATCH_DATA=$$(mktemp -d) ZINC_LATCH_COPIES=no $(PY) scripts/bench.py

hostile: .venv/.test
	@$(PY) scripts/hostile.py --count 20000 --seconds 900

# Files that change within a second are compiled each time.
mutate: export PYTHONDONTWRITEBYTECODE = 1
mutate: .venv/.test
	@$(PY) scripts/mutate.py --seed 1 --count 60

shots: .venv/.test
	@scripts/need_tools.sh
	@ZINC_LATCH_DATA=$$(mktemp -d) $(PY) scripts/shots.py

schema: .venv/.run
	@.venv/bin/zinc-latch schema > docs/build-file.schema.json

docs: .venv/.run
	@$(PY) scripts/findings_doc.py > docs/findings.md
	@PYTHONPATH=. $(PY) scripts/floors_picture.py > docs/floors.svg

lock:
	@$(PY) -m pip install -q pip-tools
	@.venv/bin/pip-compile -q --generate-hashes --strip-extras --no-emit-index-url --no-emit-trusted-host --no-emit-find-links -o requirements.txt requirements.in
	@.venv/bin/pip-compile -q --generate-hashes --strip-extras --allow-unsafe --no-emit-index-url --no-emit-trusted-host --no-emit-find-links -o requirements-test.txt requirements-test.in

clean:
	@find . -name __pycache__ -not -path "./.venv/*" -prune -exec rm -rf {} +
	@rm -rf .venv build .mypy_cache *.egg-info .pytest_cache .hypothesis .ruff_cache .import_linter_cache
