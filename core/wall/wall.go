// Package wall is a lesson in which a class finds a fault together: everybody votes for the
// next test, and what each would have been worth is shown once the vote is closed.
package wall

import (
	"context"
	"slices"

	"zanjero/core/assess"
	"zanjero/core/authoring"
	"zanjero/core/bench"
	"zanjero/core/diagnosis"
	"zanjero/core/ledger"
	"zanjero/core/problem"
	"zanjero/core/reading"
	"zanjero/core/scenario"
)

// Done is a test that was made, and what it showed.
type Done struct {
	Test string
	Told scenario.Told
	// Minutes since the machine came in.
	Minutes float64
}

// Worth is what a test would be worth now.
type Worth struct {
	Test string `json:"test"`
	// Minutes that it takes, with what has to be opened for it.
	Minutes float64 `json:"minutes"`
	// Share that it is expected to take off what is left to know, 0 to 1.
	Share float64 `json:"share"`
}

// Wall is a machine on which tests are made one by one, each set up and read as a master
// would. One goroutine at a time may use it.
type Wall struct {
	sc         *scenario.Scenario
	ledger     *ledger.Ledger
	prior, now *diagnosis.Standing
	done       []Done
}

// Open lays a scenario out, by the answers of its engine, and makes the tests that were made
// on it before; the same seed shows the same. It fails with a *problem.Problem where one of
// them cannot be made, and when the context ends.
func Open(ctx context.Context, sc *scenario.Scenario, answers *diagnosis.Answers, seed uint64, tests []string) (*Wall, error) {
	l, err := sc.Made(bench.Ideal, true, seed)
	if err != nil {
		return nil, err
	}
	prior, err := authoring.Begin(ctx, sc, answers)
	if err != nil {
		return nil, err
	}
	w := &Wall{sc: sc, ledger: l, prior: prior, now: prior.Clone()}
	for _, t := range tests {
		if p := w.Take(t); p != nil {
			return nil, p
		}
	}
	return w, nil
}

// Take makes a test.
func (w *Wall) Take(test string) *problem.Problem {
	if !slices.Contains(w.Left(), test) {
		return problem.New("test", "wall.no-such-test", "test", test)
	}
	if p := w.ledger.Apply(ledger.Event{Kind: ledger.EventMade, Test: test}); p != nil {
		return p
	}
	line := w.ledger.Latest()
	w.now.Take(test, line.Obs)
	w.done = append(w.done, Done{test, scenario.Tell(*line.Obs), w.ledger.Minutes()})
	return nil
}

// Done are the tests that were made, in order.
func (w *Wall) Done() []Done { return w.done }

// Left are the tests that can be voted for, in the catalogue's order: those of the kit that
// tell something of the machine and were not made.
func (w *Wall) Left() (out []string) {
	for _, t := range w.sc.Tests() {
		made := slices.ContainsFunc(w.done, func(d Done) bool { return d.Test == t.ID })
		if !made && t.ID != reading.AskHistory && w.now.Asks(t.ID) && w.sc.InKit(&t) {
			out = append(out, t.ID)
		}
	}
	return out
}

// Worths are what the tests that are left would be worth now, the dearest a minute first.
func (w *Wall) Worths() (out []Worth) {
	left, bits := w.Left(), max(w.now.Bits(), 1e-9)
	for _, x := range w.now.Rank(diagnosis.Weights{}, w.ledger.Open(), func(t string) bool { return slices.Contains(left, t) }) {
		out = append(out, Worth{x.Test, x.Minutes, min(x.Bits/bits, 1)})
	}
	return out
}

// Board has the marks that what was shown would make, by reach.
func (w *Wall) Board() map[string]string { return assess.Board(w.sc.Figures(), w.prior, w.now) }
