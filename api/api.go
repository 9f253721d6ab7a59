// Package api holds the published descriptions of what goes in and out of the
// program.
package api

import _ "embed"

// PackSchema is the JSON Schema of packs.
//
//go:embed pack.schema.json
var PackSchema []byte

// ScenariosSchema is the JSON Schema of packs of scenarios.
//
//go:embed scenarios.schema.json
var ScenariosSchema []byte
