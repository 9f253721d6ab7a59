# make run    does the main job with the demo yard
# make test   everything
# make check  the fast inner loop
# make build, make bench, make soak, make shots, make generate, make fuzz
SHELL := /bin/bash
TOOL := go tool -modfile=tools/go.mod
GO_SOURCES := $(shell git ls-files -co --exclude-standard '*.go' 'core/**' 'demo/**' 'internal/**' 'messages/**' 'go.mod' 'go.sum')
WEB_SOURCES := $(shell git ls-files -co --exclude-standard web messages ':!web/dist')
ADDR ?= 127.0.0.1:8080

.PHONY: run build test check bench soak generate generated lint unit web-test e2e shots findings fairness fuzz clean

run: build
	@tools/need postgresql setpriv
	@exec bin/zanjero serve --addr $(ADDR)

build: bin/zanjero

web/node_modules/.installed: web/package-lock.json
	@tools/need node npm
	cd web && npm ci --no-progress --loglevel=error
	@touch $@

e2e/node_modules/.installed: e2e/package-lock.json
	cd e2e && npm ci --no-progress --loglevel=error
	@touch $@

web/dist/index.html: web/node_modules/.installed $(WEB_SOURCES)
	cd web && npm run --silent build -- --logLevel warn
	@touch web/dist/.keep $@

bin/zanjero: web/dist/index.html $(GO_SOURCES)
	@tools/need go
	go build -trimpath -o $@ ./cmd/zanjero

generate: web/node_modules/.installed
	$(TOOL) oapi-codegen --config api/server.yaml api/openapi.yaml
	cd web && npm run --silent generate

# Generated code is never edited: making it anew must change nothing.
generated: web/node_modules/.installed
	@cp internal/httpapi/api.gen.go web/src/api/schema.d.ts .run-generated/ 2>/dev/null || (mkdir -p .run-generated && cp internal/httpapi/api.gen.go web/src/api/schema.d.ts .run-generated/)
	@$(MAKE) --no-print-directory generate >/dev/null
	@cmp internal/httpapi/api.gen.go .run-generated/api.gen.go && cmp web/src/api/schema.d.ts .run-generated/schema.d.ts || (echo "generated code was not current; it is now: commit it"; exit 1)
	@rm -r .run-generated

lint: web/node_modules/.installed
	@test -z "$$(gofmt -l api cmd core demo internal messages web/*.go)" || (echo "gofmt these:"; gofmt -l api cmd core demo internal messages web/*.go; exit 1)
	@! awk 'length > 160 {print FILENAME": "FNR": longer than 160 columns"; found = 1} END {exit !found}' $$(git ls-files '*.go' | grep -v gen.go)
	go vet ./...
	$(TOOL) staticcheck ./...
	cd web && npm run --silent lint && npm run --silent typecheck

# All of it under the race detector but what is long by its numbers, and that
# without it.
LONG := ./core/authoring ./core/assess ./core/diagnosis ./core/procedure ./core/scenario ./core/sim ./core/ledger ./internal/yard
unit:
	@tools/need postgresql setpriv
	go test -race -short -timeout 30m ./...
	go test -timeout 30m $(LONG)
	go test -timeout 30m ./internal/httpapi -run NothingSent

web-test: web/node_modules/.installed
	cd web && npm run --silent test

e2e: build e2e/node_modules/.installed
	@tools/need postgresql setpriv chromium
	cd e2e && npx playwright test

test: generated lint unit web-test e2e
	@echo "everything passed"

check: web/node_modules/.installed
	go vet ./... && go test -short ./core/... ./messages/... ./internal/interop/...
	cd web && npm run --silent test

bench: build e2e/node_modules/.installed
	@tools/need postgresql setpriv chromium
	go run ./internal/benchmark -json bench-results.json
	@cd e2e && npx playwright test --config figures.config.ts 2>/dev/null | grep -E ' (ms|ratio) '

# The server under a full class, killed over and over: five minutes.
soak: build
	@tools/need postgresql setpriv
	go run ./internal/soak

shots: build e2e/node_modules/.installed
	@tools/need postgresql setpriv chromium
	cd e2e && npx playwright test --config shots.config.ts

# docs/reading-level.md: how hard the words are to read.
readable:
	go run ./internal/readable

# The tables and plots of docs/findings.md, worked out anew: hours, most of them for the
# pages that are planned.
findings:
	go run ./internal/findings

# What the marks make of simulated apprentices of known worth: about a quarter of an hour.
fairness:
	go run ./internal/findings -fairness

fuzz:
	go test ./core/units -fuzz FuzzParseReading -fuzztime 30s
	go test ./core/assess -fuzz FuzzReadAttempt -fuzztime 30s
	go test ./core/bench -fuzz FuzzSimulate -fuzztime 60s
	go test ./core/sequencing -fuzz FuzzRead -fuzztime 30s
	go test ./core/diagnosis -fuzz FuzzReadSeen -fuzztime 30s
	go test ./core/procedure -fuzz FuzzPack -fuzztime 30s
	go test ./core/study -fuzz FuzzRead -fuzztime 30s
	go test ./core/shop -fuzz FuzzReadDevice -fuzztime 30s
	go test ./core/shop -fuzz FuzzABugIsReadOrRefused -fuzztime 30s

clean:
	rm -rf bin web/node_modules e2e/node_modules web/dist/assets web/dist/index.html
