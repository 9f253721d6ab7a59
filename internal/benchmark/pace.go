package main

import (
	"math/rand/v2"
	"runtime"
	"slices"
	"sync"
	"time"
)

// pace tells how much of the processor this program is given: others may have it too,
// and then everything takes longer. It is a ratio of one run, so it needs no figure of
// another machine.
type pace struct {
	numbers []float64
	fastest time.Duration
	// taken is what each look since the last reading took.
	taken []time.Duration
}

// looks are enough for one of them to find the processor free.
const looks = 200

func newPace() *pace {
	r := rand.New(rand.NewPCG(1, 2))
	p := &pace{numbers: make([]float64, 20_000), fastest: time.Hour}
	for i := range p.numbers {
		p.numbers[i] = r.Float64()
	}
	p.look(looks)
	p.taken = nil
	return p
}

// look sorts the same numbers on every processor at once, n times.
func (p *pace) look(n int) {
	for range n {
		began := time.Now()
		var wg sync.WaitGroup
		for range runtime.GOMAXPROCS(0) {
			wg.Go(func() { slices.Sort(slices.Clone(p.numbers)) })
		}
		wg.Wait()
		took := time.Since(began)
		p.fastest = min(p.fastest, took)
		p.taken = append(p.taken, took)
	}
}

// share is the part of the processor that was there at the looks since the last
// reading, 1 for all of it.
func (p *pace) share() float64 {
	sum := time.Duration(0)
	for _, t := range p.taken {
		sum += t
	}
	n := len(p.taken)
	p.taken = nil
	return float64(p.fastest) * float64(n) / float64(sum)
}
