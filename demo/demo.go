// Package demo carries the invented training yard.
package demo

import _ "embed"

// Yard is the yard in the project's own open form, JSON.
//
//go:embed yard.json
var Yard []byte
