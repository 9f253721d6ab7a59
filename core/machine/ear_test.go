package machine

import (
	"cmp"
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/catalogue"
)

// started is a machine of a family with some faults that somebody has tried to start.
func started(t *testing.T, family string, faults ...FaultSpec) (*Machine, Attempt, Start) {
	t.Helper()
	m, err := New(family, catalogue.Standard().Family(family).Sheet, Build{}, day, faults)
	require.NoError(t, err)
	m.SetFuel(m.TankML())
	m.SetControls(Controls{BarHeld: true, Choke: 1})
	if m.Primes() {
		m.Prime(3)
	}
	a := Attempt{Choke: 1, Throttle: 0.3, Pulls: 10}
	return m, a, m.Attempt(a, Draws{})
}

// within are the beats of a kind from one time to another.
func within(beats []Beat, kind string, from, to float64) (at []float64) {
	for _, b := range beats {
		if b.Kind == kind && b.At >= from && b.At < to {
			at = append(at, b.At)
		}
	}
	return at
}

// A four-stroke fires at speed / 120 times a second and a two-stroke at speed / 60
// (textbook), at the speed that the run had, to what an ear tells.
func TestFiringsFollowTheSpeed(t *testing.T) {
	for family, turns := range map[string]float64{"f4-bowl": 120, "f4-bail": 120, "f4-suction": 120, "t2-diaphragm": 60} {
		m, a, s := started(t, family)
		require.Equal(t, "runs-well", s.Word, family)
		h := m.Heard(a, Draws{}, s)
		beats, seconds := h.Score()
		began := 0.0
		for _, p := range h.Parts {
			if p.Kind == EarRun {
				fires := within(beats, BeatFire, began, began+p.Seconds)
				per := float64(len(fires)-1) / (fires[len(fires)-1] - fires[0])
				assert.InEpsilon(t, p.From/turns, per, 0.005, "%s at %g rpm", family, p.From)
			}
			began += p.Seconds
		}
		assert.InDelta(t, seconds, began, 1e-9)
		assert.InEpsilon(t, s.RPM, h.Parts[len(h.Parts)-3].From, 0.011, "%s without load", family)
		assert.True(t, slices.IsSortedFunc(beats, func(a, b Beat) int { return cmp.Compare(a.At, b.At) }))
	}
}

// A hunting engine swings up and down in one to two seconds (common practice), about the speed
// that it has, and the further the leaner it is. Measured on what is heard.
func TestHuntingSwings(t *testing.T) {
	last := 0.0
	for _, lambda := range []float64{1.16, 1.3, 1.5} {
		m, a, s := started(t, "f4-bowl")
		s.Word, s.LambdaMax = "hunts", lambda
		h := m.Heard(a, Draws{}, s)
		run := slices.IndexFunc(h.Parts, func(p EarPart) bool { return p.Kind == EarRun })
		h.Parts = []EarPart{h.Parts[run]}
		h.Parts[0].Seconds, h.Parts[0].Missed = 16, 0
		beats, _ := h.Score()
		var rises []float64 // when it comes up through the speed that it has
		low, high, was := 1e9, 0.0, 0.0
		for i := 1; i < len(beats); i++ {
			rpm := 120 / (beats[i].At - beats[i-1].At)
			if was > 0 && was < h.Parts[0].From && rpm >= h.Parts[0].From {
				rises = append(rises, beats[i].At)
			}
			was, low, high = rpm, min(low, rpm), max(high, rpm)
		}
		require.Greater(t, len(rises), 5)
		period := (rises[len(rises)-1] - rises[0]) / float64(len(rises)-1)
		assert.InEpsilon(t, huntPeriod, period, 0.03)
		depth := (high - low) / 2 / h.Parts[0].From
		assert.InDelta(t, h.Parts[0].Swing, depth, 0.01)
		assert.Greater(t, depth, last)
		last = depth
	}
}

// What the words do not name is not heard, and what they name is: over every fault of every
// family. Two machines that go the same sound the same.
func TestAnEarHearsWhatTheWordsSay(t *testing.T) {
	sounds, heard, alike := map[string]Heard{}, map[string]int{}, 0
	for _, fam := range catalogue.Standard().Families {
		for _, f := range catalogue.Standard().FaultsOf(fam.ID, fam.Sheet) {
			for k := range 10 * max(len(f.Modes), 1) {
				spec := FaultSpec{ID: f.ID, Severity: float64(k%10+1) / 10}
				if len(f.Modes) > 0 {
					spec.Mode = f.Modes[k/10]
				}
				m, a, s := started(t, fam.ID, spec)
				sound, h := m.Sound(s), m.Heard(a, Draws{}, s)
				beats, seconds := h.Score()
				at := fmt.Sprintf("%s %s %g: %s, %s", fam.ID, f.ID, spec.Severity, s.Word, sound)
				require.Less(t, len(beats), 6000, at)
				require.Less(t, seconds, 30.0, at)
				has := func(kind string) bool { return slices.ContainsFunc(beats, func(b Beat) bool { return b.Kind == kind }) }
				assert.Equal(t, sound == "bang", has(BeatBang), at)
				assert.Equal(t, sound == "hiss", has(BeatHiss), at)
				assert.Equal(t, sound == "knock", has(BeatKnock), at)
				assert.Equal(t, sound == "shudder", has(BeatThump), at)
				if has(BeatPop) {
					assert.Equal(t, "pops", sound, at)
				}
				if has(BeatSpit) {
					assert.Equal(t, "spit", sound, at)
				}
				swings := slices.ContainsFunc(h.Parts, func(p EarPart) bool { return p.Swing > 0 })
				assert.Equal(t, s.Word == "hunts", swings, at)
				if sound == "even" && s.Word == "runs-well" {
					for _, p := range h.Parts {
						assert.Zero(t, p.Missed, at)
					}
				}
				heard[sound]++
				// Whatever is wrong: the same speeds and the same mixture sound the same.
				key := fmt.Sprint(fam.ID, s.Word, sound, s.Pulls, pitch(s.RPM), pitch(s.IdleRPM), pitch(m.Speed(LoadTest)),
					notch(s.LambdaMin, 0.1), notch(s.LambdaMax, 0.1))
				was, known := sounds[key]
				if !known || sound == "knock" || sound == "pops" || s.Word == "low-power" {
					sounds[key] = h
					continue
				}
				alike++
				require.Len(t, h.Parts, len(was.Parts), at)
				for i, p := range h.Parts {
					o := was.Parts[i]
					assert.InDelta(t, o.Missed, p.Missed, 0.151, at)
					assert.InDelta(t, o.Swing, p.Swing, 0.061, at)
					o.Missed, o.Swing, o.EveryOther, p.EveryOther = p.Missed, p.Swing, false, false
					assert.Equal(t, o, p, at)
				}
			}
		}
	}
	for _, w := range []string{"none", "bang", "spit", "hiss", "howl", "shudder", "cough", "knock", "pops", "surging", "lumpy", "labouring", "even"} {
		assert.Positive(t, heard[w], w)
	}
	assert.Greater(t, alike, 200)
	t.Log(heard)
}

// A rope follows the compression of its machine within what its word says: a weaker one holds
// no harder, and the words keep apart.
func TestARopeFollowsTheCompression(t *testing.T) {
	most := func(r Rope) float64 { return slices.Max(r.Holds) }
	for _, fam := range catalogue.Standard().Families {
		last, felt := 2.0, map[string]bool{}
		for k := range 21 {
			m, err := New(fam.ID, fam.Sheet, Build{}, day, []FaultSpec{{ID: "rings-worn", Severity: float64(k) / 20}})
			require.NoError(t, err)
			m.SetControls(Controls{BarHeld: true})
			word := m.Feel()
			r := m.Rope(word)
			felt[word] = true
			assert.LessOrEqual(t, most(r), last, "%s %d", fam.ID, k)
			assert.Equal(t, RopeBack, r.End)
			last = most(r)
			switch word {
			case "strong":
				assert.GreaterOrEqual(t, last, 0.7)
			case "soft":
				assert.True(t, last > 0.2 && last <= 0.6, "%g", last)
			case "none":
				assert.LessOrEqual(t, last, 0.2)
			}
			bumps := 0
			for i := 1; i < len(r.Holds); i++ {
				if r.Holds[i] >= last && r.Holds[i-1] < last {
					bumps++
				}
			}
			if word != "none" {
				assert.Equal(t, m.p.strokesPerPull, bumps, "%s: once for each compression", fam.ID)
			}
		}
		assert.Greater(t, len(felt), 1, fam.ID)
		m, _, _ := started(t, fam.ID)
		for word, end := range map[string]string{"locked": RopeStuck, "snatches": RopeSnatch, "stays-out": RopeStays, "rope-gone": RopeMissing, "drags": RopeBack} {
			assert.Equal(t, end, m.Rope(word).End)
		}
	}
}

// A plug looks as it is called: each word has its own looks, whatever has made it so, and
// within a word it goes by its state.
func TestAPlugLooksAsItIsCalled(t *testing.T) {
	called := map[string]map[PlugSeen]bool{}
	for _, fam := range catalogue.Standard().Families {
		for _, f := range catalogue.Standard().FaultsOf(fam.ID, fam.Sheet) {
			for k := range 10 {
				m, _, _ := started(t, fam.ID, FaultSpec{ID: f.ID, Severity: float64(k+1) / 10})
				word := m.PlugFace()
				p := m.PlugSeen(word)
				at := fmt.Sprintf("%s %s %d: %s %+v", fam.ID, f.ID, k, word, p)
				assert.Equal(t, word == "cracked", p.Cracked, at)
				assert.Equal(t, word == "oily", p.Oil > 0, at)
				assert.Equal(t, word == "wet" || word == "damp", p.Wet > 0, at)
				assert.Equal(t, word == "wet", p.Wet >= 0.5, at)
				assert.Equal(t, word == "sooty", p.Tone <= -0.5, at)
				assert.Equal(t, word == "white", p.Tone >= 0.5, at)
				if called[word] == nil {
					called[word] = map[PlugSeen]bool{}
				}
				p.GapMM = 0
				called[word][p] = true
			}
		}
	}
	for _, word := range []string{"tan", "wet", "sooty", "oily", "cracked"} {
		assert.NotEmpty(t, called[word], word)
	}
	assert.Greater(t, len(called["wet"]), 1, "by its state")
	for a := range called { // no two words look the same
		for b := range called {
			for p := range called[a] {
				assert.False(t, a != b && called[b][p], "%s and %s: %+v", a, b, p)
			}
		}
	}
}
