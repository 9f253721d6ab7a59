// Package authoring works out what a scenario comes to before it is given out: whether the
// complaint is true, whether it can be solved with what is on the bench and in the time,
// how hard it is and by what, and what it could be taken for. It finds scenarios that teach
// a lesson, and others that are as hard as a given one.
//
// All of it rests on the machine model and on one belief: a competent tester works the
// job on the machine itself.
package authoring
