# Every command. `make demo` and `make test` work on a fresh machine: python3 with venv, make.

# A uv environment has no bytecode; without it each start costs seconds.
unexport PYTHONDONTWRITEBYTECODE
PY := .venv/bin/python
MANAGE := $(PY) manage.py
ADDRESS := 127.0.0.1:8000
STATIC := $(shell find pelk -path '*/static/*' -type f)

.PHONY: demo serve test-postgres soak test check quick browser bench shots share lock clean
.DELETE_ON_ERROR:

demo: .venv/run.stamp staticfiles/.stamp  ## set up, load the demo yard, serve
	$(MANAGE) migrate --verbosity 0
	$(MANAGE) load_demo
	@echo "Pelk is at http://$(ADDRESS)/  (stop with Ctrl+C)"
	PELK_BIND=$(ADDRESS) PELK_WORKERS=2 .venv/bin/gunicorn pelk.config.wsgi -c deploy/gunicorn.conf.py

serve: .venv/run.stamp staticfiles/.stamp  ## serve without demo data; the first person signs up
	$(MANAGE) migrate --verbosity 0
	@echo "Pelk is at http://$(ADDRESS)/  (stop with Ctrl+C); docs/deploy.md serves it for real"
	PELK_BIND=$(ADDRESS) .venv/bin/gunicorn pelk.config.wsgi -c deploy/gunicorn.conf.py

test-postgres: .venv/dev.stamp  ## the whole suite on a PostgreSQL of its own (Debian's)
	bash deploy/with_postgres.sh $(MANAGE) test tests --settings pelk.config.settings_test --exclude-tag browser --noinput

soak: .venv/dev.stamp  ## kills, writers, odd input, slow clients: bounded, on this machine alone
	$(PY) -m tests.soak

test: check quick browser  ## lint, types, import contracts, all tests

check: .venv/dev.stamp
	.venv/bin/ruff format --check .
	.venv/bin/ruff check .
	.venv/bin/djlint --lint --quiet pelk
	.venv/bin/lint-imports
	.venv/bin/mypy pelk
	PELK_SECRET_KEY=check-only-a-long-key-of-letters-and-0123456789-more PELK_HTTPS=1 $(MANAGE) check --deploy --fail-level WARNING
	$(MANAGE) makemigrations --check --dry-run --verbosity 0

quick: .venv/dev.stamp  ## every test but the browser's, on two cores
	$(MANAGE) test tests --settings pelk.config.settings_test --exclude-tag browser --noinput --parallel 2

browser: .venv/dev.stamp
	@command -v chromium >/dev/null || (apt-get update -q && apt-get install -y -q chromium)
	$(MANAGE) test tests --settings pelk.config.settings_test --tag browser --noinput

bench: .venv/dev.stamp  ## speed as ratios measured in one run
	$(MANAGE) migrate --verbosity 0
	$(PY) -m tests.speed

shots: .venv/dev.stamp staticfiles/.stamp  ## one current picture of each main view
	@command -v chromium >/dev/null || (apt-get update -q && apt-get install -y -q chromium)
	$(PY) -m tests.shots

share: ## how much of the code is tests
	@src=$$(git ls-files | grep -E '\.(py|html|svg|js|css)$$' | grep -vE '(^|/)(vendor|migrations|tests|docs|tex)/|\.min\.' | xargs cat | grep -c '[^[:space:]]'); \
	tst=$$(git ls-files tests | grep -E '\.(py|toml)$$' | xargs cat | grep -c '[^[:space:]]'); \
	echo "tests $$tst lines, code $$src lines: $$((100 * tst / src)) %"

lock: .tools/uv.stamp
	PYTHONPATH=.tools python3 -m uv pip compile -q --generate-hashes --python-version 3.11 requirements.in -o requirements.lock
	PYTHONPATH=.tools python3 -m uv pip compile -q --generate-hashes --python-version 3.11 requirements-dev.in -o requirements-dev.lock

# The environment: uv where it can be had (seconds), plain pip else (a minute).
.tools/uv.stamp:
	python3 -m pip install -q --disable-pip-version-check --target .tools uv==0.13.9 || true
	@mkdir -p .tools && touch $@

define environment
	@test -x $(PY) || PYTHONPATH=.tools python3 -m uv venv -q --clear .venv 2>/dev/null || python3 -m venv --clear .venv
	PYTHONPATH=.tools python3 -m uv pip install -q --require-hashes --python $(PY) -r $(1) 2>/dev/null \
	  || $(PY) -m pip install -q --disable-pip-version-check --require-hashes -r $(1)
	@touch $@
endef

.venv/run.stamp: requirements.lock | .tools/uv.stamp
	$(call environment,requirements.lock)

.venv/dev.stamp: requirements-dev.lock | .tools/uv.stamp
	$(call environment,requirements-dev.lock)
	@touch .venv/run.stamp

staticfiles/.stamp: $(STATIC) | .venv/run.stamp
	$(MANAGE) collectstatic --noinput --clear --verbosity 0
	@touch $@

clean:
	rm -rf .venv .tools staticfiles var
