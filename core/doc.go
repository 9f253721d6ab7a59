// Package core is the root of the rules of the job: units, the catalogue, the
// machine model, the bench, diagnosis, scenarios and assessment. Nothing below
// it knows of a web, a database, a clock or any randomness but a seed that is
// handed in. The arrows point one way:
//
//	units ← catalogue ← machine ← bench ← diagnosis ← scenario ← assess
package core
