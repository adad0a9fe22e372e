# Artemon: `make demo` starts it with the invented world, `make test` runs every check.
.PHONY: demo test endure web api pictures bench readers deps deps-browser deps-spreadsheet deps-paper deps-query speed world

# Built with Clippy's lints, every warning an error.
STRICT := RUSTC_WORKSPACE_WRAPPER=$(CURDIR)/.ci/rustc-strict
CARGO_TEST := RUST_BACKTRACE=0 $(STRICT) cargo test --workspace --locked

demo: web
	cargo build --workspace --bin artemon --release --locked
	./target/release/artemon demo $(ARGS)

# The browser's side, built into the program.
web: web/node_modules
	cd web && npm run --silent build

web/node_modules: web/package-lock.json
	cd web && npm ci --no-audit --no-fund
	touch web/node_modules

# Chromium and its driver, for the browser tests.
deps-browser:
	@command -v chromedriver >/dev/null && command -v chromium >/dev/null || \
		{ apt-get update -qq && apt-get install -y -qq chromium chromium-driver; }

# LibreOffice, which calculates the workbook in a test.
deps-spreadsheet:
	@command -v soffice >/dev/null || \
		{ apt-get update -qq && apt-get install -y -qq --no-install-recommends libreoffice-calc-nogui >/dev/null; }

# Reads what is printed, in a test.
deps-paper:
	@command -v pdftotext >/dev/null || \
		{ apt-get update -qq && apt-get install -y -qq poppler-utils >/dev/null; }

# Queries the dataset as Parquet, in a test.
deps-query:
	@python3 -c "import duckdb" 2>/dev/null || python3 -m pip install --quiet --disable-pip-version-check --root-user-action=ignore duckdb || \
		python3 -m pip install --quiet --disable-pip-version-check --root-user-action=ignore --break-system-packages duckdb

deps: deps-browser deps-spreadsheet deps-paper deps-query

test: web deps
	cd web && npm run --silent check && npm run --silent lint
	cargo fmt --all --check
	cd web && npm run --silent gen >/dev/null && git diff --exit-code -- src/api/schema.d.ts
	$(CARGO_TEST) --benches --no-run
	$(CARGO_TEST)

# The long runs of docs/reliability.md, beside the suite: hours, and as root. Each number may be given.
endure: export KILLS ?= 200
endure: export DAMAGES ?= 220
endure: export PROPTEST_CASES ?= 125000
endure: export REQUESTS ?= 60
endure: export MINUTES ?= 120
endure: web
	$(CARGO_TEST) --test withstands -- killed --test-threads=1
	$(CARGO_TEST) --test damage --test hostile --test mutated
	$(CARGO_TEST) --test api -- contract
	$(CARGO_TEST) --test withstands -- --ignored --nocapture --test-threads=1

# The description of the API and the types made from it.
api:
	UPDATE_OPENAPI=1 cargo test -p artemon-server --test api description --locked
	cd web && npm run gen

# The pictures of the README, from the demo world.
pictures: web deps-browser
	cargo build --workspace --bin artemon --release --locked
	ARTEMON_BINARY=$(CURDIR)/target/release/artemon cargo test -p artemon-e2e --locked pictures -- --ignored

# The figures of the demo world beside the ranges wanted of them, as in docs/demo-world.md, and their means over five worlds.
world:
	cargo test -p artemon-checks --locked --test world figures_of_the_world -- --ignored --nocapture

# The figures of docs/performance.md; COMPANIES=1000 for a quick look.
bench:
	cargo bench -p artemon-app --bench universe --locked

# How fast files are read, beside general-purpose readers.
readers:
	BARS=$${BARS:-39000000} cargo bench -p artemon-formats --bench readers --locked

# What a person waits for, measured in the browser; COMPANIES=1000 for a quick look.
speed: web deps-browser
	cargo build --workspace --bin artemon --release --locked
	ARTEMON_BINARY=$(CURDIR)/target/release/artemon cargo test -p artemon-e2e --locked speed -- --ignored --nocapture --test-threads=1
