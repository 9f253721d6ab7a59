// Package demo carries the invented training yard.
package demo

import _ "embed"

// Yard is the yard in the project's own open form, JSON.
//
//go:embed yard.json
var Yard []byte

// Scenarios is the yard's library, JSON: scenarios in their open form, each with the code
// of its machine.
//
//go:embed scenarios.json
var Scenarios []byte

// Exam is a practical exam of the yard that has begun, JSON: engines with faults put in,
// people who rotate over them, and the turns that are over. Its readings and turns are made
// from the model by a test of internal/yard.
//
//go:embed exam.json
var Exam []byte
