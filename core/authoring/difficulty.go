package authoring

import (
	"math"
	"reflect"
	"slices"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/instrument"
	"zanjero/core/reading"
	"zanjero/core/scenario"
	"zanjero/core/setup"
)

// Difficulty is how hard a job is, part by part.
type Difficulty struct {
	// Level runs from 1, where a look finds it, to 5; Score is what it is taken from.
	Level int     `json:"level"`
	Score float64 `json:"score"`
	// Bits are to be gained once the complaint is heard, BestBitsPerMinute what the best
	// test then gives.
	Bits              float64 `json:"bits"`
	BestBitsPerMinute float64 `json:"best_bits_per_minute"`
	// Explanations are the sets of faults that hold 95 % once the complaint is heard.
	Explanations int `json:"explanations"`
	// Traps are conditions whose usual neglect changes a reading on the way.
	Traps []string `json:"traps"`
	// TimeEffects are ways in which it shows only in time, or stops showing.
	TimeEffects []string `json:"time_effects"`
	Faults      int      `json:"faults"`
	Distractors int      `json:"distractors"`
}

// Ways in which time has a part.
const (
	faltersLate = "falters-late" // it runs well at first
	comesBack   = "comes-back"   // and again, once it has stood
	onlyHot     = "only-hot"     // it is sound while it is cold
	hiddenBy    = "hidden-by."   // a test on the way makes it vanish, by its id
)

// What counts towards the score: how long the best test would take to gain all bits, how
// many explanations there are, and what else makes a job hard. Sizes chosen by us, and
// held against a ranking by judgement.
const (
	perMinutes      = 0.5 // doubled
	perExplanations = 0.1 // doubled
	perTrap         = 0.2
	perTimeEffect   = 0.8
	perFault        = 1.6 // beyond the first
	perDistractor   = 0.5
)

// levels are the scores from which a job that no look finds is of level 3 to 5.
var levels = [...]float64{2.3, 3.4, 4.4}

// lookMinutes is how long the tests of a job take at most that a look is said to find.
const lookMinutes = 5

// grade gives the score of the parts, and the level. What a look finds is of the first,
// and nothing else is.
func grade(d *Difficulty, testMinutes float64, lookFinds bool) (score float64, level int) {
	score = perMinutes*math.Log2(1+testMinutes) + perExplanations*math.Log2(float64(max(d.Explanations, 1))) + perTrap*float64(len(d.Traps)) +
		perTimeEffect*float64(len(d.TimeEffects)) + perFault*float64(d.Faults-1) + perDistractor*float64(d.Distractors)
	if lookFinds && testMinutes <= lookMinutes {
		return round(score, 0.01), 1
	}
	level = 2
	for _, from := range levels {
		if score >= from {
			level++
		}
	}
	return round(score, 0.01), level
}

// difficulty works the parts out.
func difficulty(sc *scenario.Scenario, began *diagnosis.Standing, w *Worked) (d Difficulty, err error) {
	d = Difficulty{Bits: round(began.Bits(), 0.01), Explanations: len(began.Credible()), Faults: len(sc.Faults), Distractors: len(sc.Distractors)}
	rank := began.Rank(diagnosis.Weights{}, nil, func(id string) bool {
		return sc.InKit(catalogue.Standard().Test(id)) && id != reading.AskHistory
	})
	if len(rank) > 0 {
		d.BestBitsPerMinute = round(rank[0].BitsPerMinute, 1e-3)
	}
	if d.Traps, err = traps(sc, w); err != nil {
		return d, err
	}
	d.TimeEffects, err = timeEffects(sc, w)
	return d, err
}

// timeEffects asks the machine what time does to the complaint.
func timeEffects(sc *scenario.Scenario, w *Worked) ([]string, error) {
	out := []string{}
	fresh, err := master(sc)
	if err != nil {
		return nil, err
	}
	c := sc.Complaint()
	start := diagnosis.ComplaintBy("no-start")
	switch claim := &c.Claim; claim.Test {
	case "run-long":
		ses := fresh.Clone()
		o := ses.Test(claim.Test, claim.Setup)
		if o.FalterAt < 1 || len(claim.Stop) > 0 || !slices.Contains(claim.Words, *o.Word) {
			break
		}
		out = append(out, faltersLate)
		if *o.Word == "stopped-dead" && !ses.Machine().State().Seized {
			out = append(out, onlyHot)
		}
		if silent := start.Claim.Of(ses); silent >= isTrue { // it will not start again at once
			ses.Wait(20)
			if start.Claim.Of(ses) < isTrue {
				out = append(out, comesBack)
			}
		} else {
			out = append(out, comesBack)
		}
	case "hot-restart":
		out = append(out, onlyHot)
	}
	hidden, err := hiding(sc, w)
	return append(out, hidden...), err
}

// hiding are the tests on the way after which the machine, as it then is, no longer does
// what is complained of.
func hiding(sc *scenario.Scenario, w *Worked) (out []string, err error) {
	c := *sc.Complaint()
	c.Claim.Falters = nil // sooner or later is no matter
	for _, st := range w.Path {
		if st.Test == "" || st.Proof || st.Test == c.Claim.Test {
			continue
		}
		ses, err := master(sc)
		if err != nil {
			return nil, err
		}
		ses.Test(st.Test, nil)
		for _, id := range ses.Open() {
			ses.Cover(id, false)
		}
		if c.Claim.Of(ses) < isTrue {
			out = append(out, hiddenBy+st.Test)
		}
	}
	return out, nil
}

// traps are the conditions that are usually neglected, of the tests on the way, and that
// change what the test shows: each test is made again with one thing left as it is found,
// and on the machine as it came.
func traps(sc *scenario.Scenario, w *Worked) ([]string, error) {
	out := []string{}
	for _, st := range w.Path {
		t := catalogue.Standard().TestFor(sc.Family, sc.Sheet, st.Test)
		if t == nil || st.Proof {
			continue
		}
		ses, err := master(sc)
		if err != nil {
			return nil, err
		}
		right := ses.Clone()
		meant := right.Test(t.ID, nil)
		ses.Prepare(t, nil)
		for _, s := range neglects(ses.FoundSetup(t), ses.MasterSetup(t)) {
			try := ses.Clone()
			o := try.TestAs(t, s)
			if o.Valid || !other(t, &meant, &o) {
				continue
			}
			for _, id := range o.Because {
				if !slices.Contains(meant.Because, id) && !slices.Contains(out, id) {
					out = append(out, id)
				}
			}
		}
	}
	slices.Sort(out)
	return out, nil
}

// neglects are a master's set-up with one thing at a time left as it is found.
func neglects(found, master setup.Setup) (out []setup.Setup) {
	f, m := reflect.ValueOf(found), reflect.ValueOf(master)
	var walk func(f, m reflect.Value, set func(s *setup.Setup) reflect.Value)
	walk = func(f, m reflect.Value, at func(s *setup.Setup) reflect.Value) {
		for i := range f.NumField() {
			field := func(s *setup.Setup) reflect.Value { return at(s).Field(i) }
			switch {
			case f.Field(i).Kind() == reflect.Struct:
				walk(f.Field(i), m.Field(i), field)
			case f.Field(i).CanInterface() && f.Field(i).Interface() != m.Field(i).Interface():
				s := master
				field(&s).Set(f.Field(i))
				out = append(out, s)
			}
		}
	}
	walk(f, m, func(s *setup.Setup) reflect.Value { return reflect.ValueOf(s).Elem() })
	return out
}

// other says that two observations of a test tell two different things: another word, or a
// number further off than the instrument's spread.
func other(t *catalogue.Test, a, b *bench.Observation) bool {
	if t.Kind != catalogue.KindNumber {
		return *a.Word != *b.Word
	}
	if a.Over() || b.Over() {
		return a.Over() != b.Over()
	}
	return math.Abs(*a.Value-*b.Value) > 3*instrument.AccuracyOf(t.ID).Spread(*a.Value)
}
