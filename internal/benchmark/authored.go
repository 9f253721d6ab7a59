package main

import (
	"context"
	"fmt"
	"time"

	"zanjero/core/authoring"
	"zanjero/core/parallel"
)

// authored measures what an author waits for at the scenario desk, on one processor, as the
// pool gives it: a check after an edit on a warm engine, an engine that is cold, and five
// proposals.
func authored() ([]row, error) {
	ctx := parallel.WithWorkers(context.Background(), 1)
	sc := lesson()
	sc.Claim, sc.Faults[0].Severity = "only-on-choke", 0.6
	p := newPace()
	const times, between = 5, 20
	p.look(between)
	began := time.Now()
	a, err := authoring.Answers(ctx, sc)
	if err != nil {
		return nil, err
	}
	cold := time.Since(began)
	var check time.Duration
	for i := range times {
		sc.Faults[0].Severity = 0.5 + 0.02*float64(i)
		p.look(between)
		began = time.Now()
		if _, err := authoring.Check(ctx, sc, a); err != nil {
			return nil, err
		}
		if i > 0 { // the first has asked the complaint of every machine
			check += time.Since(began) / (times - 1)
		}
	}
	p.look(between)
	began = time.Now()
	found, err := authoring.Generate(ctx, sc, a, authoring.Wanted{Count: 5, Seed: 3})
	if err != nil {
		return nil, err
	}
	made, share := time.Since(began), p.share() // it is asked once
	return []row{
		{"a scenario worked out after an edit, warm", ms(check) * share, "ms", "≤ 300 of work", fmt.Sprintf("%.0f ms by the clock", ms(check))},
		{"an engine's answers, cold", ms(cold) * share, "ms", "", fmt.Sprintf("%d tests", len(a.Tests()))},
		{"five scenarios made", ms(made) * share, "ms", "≤ 10000 of work", fmt.Sprintf("%d found", len(found))},
	}, nil
}
