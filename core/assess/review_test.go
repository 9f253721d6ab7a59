package assess

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func marked() *Assessment {
	a := &Assessment{Outcome: NotYet, Class: Proven, Against: []Reason{{Code: "outcome.threshold", Seq: -1}}}
	for _, id := range []string{"readings", "conclusion", "economy", "order", "safety", "proof"} {
		s := Section{ID: id, Of: 20}
		s.give(4, 10, false, 2, "reading.misread")
		s.give(6, 10, false, 3, "reading.invalid")
		s.Mark = 10
		a.Sections = append(a.Sections, s)
	}
	return a
}

// Whatever people do in whatever order, what was refused changes nothing, the marks stay
// within their sections, a section is the sum of its lines, and the first assessment is
// never touched.
func TestReviewsKeepTheirRules(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 15))
	kinds := []string{ActLine, ActOutcome, ActComment, ActSignOff, ActAskSecond, ActSecond, ActAppeal, "nonsense"}
	sections := []string{"readings", "proof", "safety", "moon"}
	taken := map[string]int{}
	for range 400 {
		a := marked()
		was := marked()
		var acts []Done
		for range 30 {
			d := Done{Act: Act{Kind: kinds[r.IntN(len(kinds))], Section: sections[r.IntN(4)], Line: r.IntN(3), Marks: float64(r.IntN(14) - 2),
				Outcome: []string{Competent, NotYet, "great"}[r.IntN(3)], Text: []string{"", "So it was.", " "}[r.IntN(3)], Seq: r.IntN(12) - 2,
				Who: []string{"", "tom", "ann"}[r.IntN(3)]}, By: []string{"tom", "ann", "kid"}[r.IntN(3)]}
			if d.Kind == ActSecond {
				d.Sections = map[string]float64{}
				for _, s := range a.Sections {
					d.Sections[s.ID] = float64(r.IntN(21))
				}
			}
			before := Review(a, acts, 60)
			if before.Check(&d, d.By == "kid", len(acts), 9) != nil {
				continue
			}
			taken[d.Kind]++
			acts = append(acts, d)
			now := Review(a, acts, 60)
			for _, s := range now.Sections {
				sum := 0.0
				for _, l := range s.Reasons {
					sum += l.Marks
				}
				require.InDelta(t, sum, s.Mark, 0.051, "%v", acts)
				require.True(t, s.Mark >= 0 && s.Mark <= s.Of)
			}
			if d.Kind == ActLine && !now.OutcomeSet {
				mark, of := now.Total()
				require.Equal(t, 100*mark/of >= 60, now.Outcome == Competent)
			}
			require.False(t, before.Signed && (d.Kind == ActLine || d.Kind == ActOutcome), "signed stays signed")
			require.Equal(t, was, a)
		}
		require.LessOrEqual(t, count(acts, ActAppeal), 1)
	}
	for _, k := range kinds[:7] {
		assert.Positive(t, taken[k], k)
	}
	assert.Zero(t, taken["nonsense"])
}

func count(acts []Done, kind string) (n int) {
	for _, d := range acts {
		if d.Kind == kind {
			n++
		}
	}
	return n
}

// Who marks second sees nothing of the marks, and then what the two differ in.
func TestSecondMarkerIsBlind(t *testing.T) {
	a := marked()
	a.Economy = Economy{Ratio: 1.7, Useless: []int{3}}
	a.Readings = []Reading{{Test: "spark-gap", ReadRight: true, Valid: true, JudgedRight: true, TrueBand: "within"}, {Test: "jet-look", Slip: SlipDigits}}
	b := a.Blind()
	assert.Equal(t, []Reading{{Test: "spark-gap"}, {Test: "jet-look"}}, b.Readings)
	assert.True(t, a.Readings[0].ReadRight, "the marks are not touched")
	for _, s := range b.Sections {
		assert.Zero(t, s.Mark)
		assert.Empty(t, s.Reasons)
	}
	assert.Empty(t, b.Class+b.Outcome)
	assert.Empty(t, b.Against)
	assert.Zero(t, b.Economy.Ratio)
	acts := []Done{{Act{Kind: ActAskSecond, Who: "ann"}, "tom"}}
	r := Review(a, acts, 60)
	assert.NotNil(t, r.Check(&Done{Act{Kind: ActComment, Seq: -1, Text: "Hm."}, "ann"}, false, 1, 9), "first the marks")
	gave := Done{Act{Kind: ActSecond, Outcome: Competent, Sections: map[string]float64{}}, "ann"}
	for _, s := range a.Sections {
		gave.Sections[s.ID] = 15
	}
	require.Nil(t, r.Check(&gave, false, 1, 9))
	r = Review(a, append(acts, gave), 60)
	require.Len(t, r.Seconds, 1)
	assert.Equal(t, 5.0, r.Seconds[0].Differ["readings"])
	assert.False(t, r.Seconds[0].Same)
	assert.Empty(t, r.Awaited)
}
