// Package core is the root of the rules of the job. Nothing below it knows of a
// web, a database, a clock or any randomness but a seed that is handed in.
//
// A newcomer may read it in this order:
//
//	problem, units, catalogue   what can be wrong with an input; quantities; the data of the trade
//	machine                     the causal model: parameters, state, controls, faults → behaviour
//	setup, reading, instrument  how a test is gone about; what it reads; what the instrument adds
//	bench, ledger               acts at the workbench; the record of an attempt
//	foresee, sim                what a test would tell; one machine run from JSON
//	sequencing, diagnosis       the order of tests; hypotheses and belief
//	procedure, scenario, assess ordered procedures; jobs; marks with reasons
//
// The arrows point one way; arrows_test.go has the whole order and fails the
// build on any other.
package core
