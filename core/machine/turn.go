package machine

import (
	"math"
	"strings"
)

// Turn is what goes on in the cylinder through one cycle, by the degrees of the crank: two
// turns of a four-stroke, which begin at the top before the inlet stroke, one turn of a
// two-stroke, which begins at the bottom. Its lists have a value each TurnStep degrees.
type Turn struct {
	// SparkAt is when the charge is lit, degrees of the cycle.
	SparkAt float64 `json:"spark_at"`
	// Inlet and Exhaust are the lifts of the valves, mm; of a two-stroke how far its ports
	// stand open, 0 to 1, and Transfer the port between the two.
	Inlet    []float64 `json:"inlet"`
	Exhaust  []float64 `json:"exhaust"`
	Transfer []float64 `json:"transfer,omitempty"`
	// Fires and Misses are the pressure in the cylinder, kPa absolute, in a cycle that burns
	// and in one that does not.
	Fires  []float64 `json:"fires"`
	Misses []float64 `json:"misses"`
	// Beats are the cycles of a second in their order: 1 burns, 0 does not.
	Beats string `json:"beats"`
}

// TurnStep is how far the values of a Turn are apart, degrees.
const TurnStep = 10

// Valve events of a small four-stroke and ports of a small two-stroke, degrees (textbook
// values from memory, for example Heywood 1988, ch. 6; when the inlet closes follows from the
// effective compression ratio), and the lift of a sound valve, mm (size chosen by us).
const (
	inletOpens, exhaustOpens, exhaustCloses = 15.0, 50.0, 15.0 // before the top, before the bottom, after the top
	transferLater                           = 18.0             // than the exhaust port
	inletPort                               = 65.0             // to both sides of the top
	fullLiftMM                              = 5.5
	clearanceMM                             = 0.15 // where the sheet has none
	stuckMM, relievedMM                     = 1.5, 0.5
)

// The burn: the share burnt goes with the angle as Wiebe has it (Heywood 1988, eq. 9.31, with
// a = 5 and m = 2) over burnDegrees where the mixture is right; of petrol's heat, 44 MJ/kg in
// air of 1.2 kg/m³ at 14.7 : 1, a small air-cooled engine keeps some half from its walls
// (common practice; size chosen by us).
const (
	burnDegrees    = 50.0
	heatKPa        = 44e3 * 1.2 / 14.7 * 0.55 // kJ in each m³ of charge
	hotGamma       = 1.27
	cycleStep      = 0.5 // degrees by which it is worked out
	blowsDownOver  = 25.0
	exhaustOver    = 1.04 // of the air's pressure
	leastBurnShare = 0.45 // of the speed of the best mixture
)

// cycle is the degrees of one, and top where it fires.
func (m *Machine) cycle() (degrees, top float64) {
	if m.p.twoStroke {
		return 360, 180
	}
	return 720, 360
}

// volume is that of the cylinder in ml at so many degrees from a top, on a crank whose rod is
// long (textbook).
func (m *Machine) volume(fromTop float64) float64 {
	return m.d.clearance + m.p.displacement*(1-math.Cos(fromTop*math.Pi/180))/2
}

// closes is when the charge is shut in, degrees before the top: from the share of the stroke
// that is left to compress.
func (m *Machine) closes() float64 {
	left := (m.p.ratioIVC - 1) / (m.p.ratio - 1)
	return math.Acos(1-2*min(max(left, 0.05), 1)) * 180 / math.Pi
}

// turn works out a cycle at a setting; cranked says that it is turned by its rope.
func (m *Machine) turn(at *setting, cranked bool) Turn {
	degrees, top := m.cycle()
	t := Turn{SparkAt: math.Round(top - m.FiringDegrees() - m.glowsEarly())}
	n := int(degrees) / TurnStep
	for i := range n {
		d := float64(i * TurnStep)
		in, ex, tr := m.open(d, cranked)
		t.Inlet, t.Exhaust = append(t.Inlet, hundredths(in)), append(t.Exhaust, hundredths(ex))
		if m.p.twoStroke {
			t.Transfer = append(t.Transfer, hundredths(tr))
		}
	}
	t.Fires, t.Misses = m.pressures(at, t.SparkAt, true), m.pressures(at, t.SparkAt, false)
	t.Beats = m.beats(at, cranked)
	return t
}

func hundredths(x float64) float64 { return math.Round(100*x) / 100 }

// open is how far inlet, exhaust and transfer stand open at a degree of the cycle.
func (m *Machine) open(d float64, cranked bool) (in, ex, tr float64) {
	if m.p.twoStroke {
		fromTop := math.Abs(d - 180)
		opens := m.closes() // the piston shuts it where it opens it
		height := func(from float64) float64 {
			if fromTop <= from {
				return 0
			}
			down := func(x float64) float64 { return 1 - math.Cos(x*math.Pi/180) }
			return (down(fromTop) - down(from)) / (down(180) - down(from))
		}
		if fromTop < inletPort {
			in = math.Cos(fromTop / inletPort * math.Pi / 2)
		}
		return in, height(opens) * (1 - m.p.portShut), height(opens + transferLater)
	}
	shift := m.Inside()
	hot := 0.0 // hot parts are longer
	if m.s.EngineC > 60 {
		hot = 0.04
	}
	in = valve(d, 720-inletOpens, 720+360-m.closes(), m.clearanceOf("valve_in_mm"), shift.InletShift-hot)
	ex = valve(d, 540-exhaustOpens, 720+exhaustCloses, m.clearanceOf("valve_ex_mm"), shift.ExhaustShift-hot)
	if m.p.decompressor > 0 && d > 180 && d < 300 && (cranked || m.p.decHeld) { // it lifts the exhaust valve through part of the stroke
		ex = max(ex, relievedMM*min(m.p.decompressor/max(m.ref.decompressor, 0.1), 1))
	}
	ex = max(ex, stuckMM*m.severity("exhaust-valve-stuck"))
	return max(in, 0.1*m.severity("intake-valve-leaks")), ex, 0
}

// clearanceOf is what the sheet has between a valve and what opens it, mm.
func (m *Machine) clearanceOf(figure string) float64 {
	if f, has := m.Sheet()[figure]; has {
		return f.Middle()
	}
	return clearanceMM
}

// valve is the lift at a degree of a valve that opens and closes at two others where its
// clearance is right, mm, with the clearance out by so much: one that is wide opens late,
// lifts less and shuts early; one that is tight opens early, and does not shut at all where
// nothing is left of it. The cam rises and falls as the square of a sine (textbook).
func valve(d, opens, closes, clearance, shift float64) float64 {
	for d < opens-(720-(closes-opens))/2 {
		d += 720
	}
	// The lobe reaches as far beyond the events as it takes to use the clearance up.
	high := fullLiftMM + clearance
	slack := math.Asin(math.Sqrt(clearance/high)) / math.Pi
	length := (closes - opens) / (1 - 2*slack)
	x := (d - opens + slack*length) / length
	lobe := 0.0
	if x > 0 && x < 1 {
		lobe = high * sq(math.Sin(math.Pi*x))
	}
	return max(lobe-max(clearance+shift, 0)+max(-clearance-shift, 0), 0)
}

// pressures is the pressure in the cylinder through a cycle, kPa absolute.
func (m *Machine) pressures(at *setting, sparkAt float64, burns bool) []float64 {
	degrees, top := m.cycle()
	kept, dec := m.kept(at.rpm)
	manifold := m.d.pressure * at.manifold
	if m.p.twoStroke { // the crankcase blows it full
		manifold = m.d.pressure * math.Max(at.air, 0.1)
	}
	filled := manifold * (1 - 0.85*m.p.inletShut)
	shut, opens := top-m.closes(), top+180-exhaustOpens
	if m.p.twoStroke {
		opens = top + m.closes()
	}
	leak := -math.Log(math.Max(kept*dec, 1e-6)) / 180 // each degree
	heat := 0.0
	if burns {
		heat = heatKPa * (at.air + at.falseAir) * math.Min(1, 1/math.Max(at.lambda, 0.3))
	}
	long := burnDegrees / math.Max(1-sq((at.lambda-0.92)/0.6), leastBurnShare)
	burnt := func(d float64) float64 {
		if d <= sparkAt {
			return 0
		}
		return 1 - math.Exp(-5*math.Pow((d-sparkAt)/long, 3))
	}
	out, p := make([]float64, 0, int(degrees)/TurnStep), filled
	back := exhaustOver * m.d.pressure
	for d := 0.0; d < degrees; d += cycleStep {
		if math.Mod(d, TurnStep) == 0 {
			out = append(out, math.Round(p))
		}
		next := d + cycleStep
		switch {
		case d < shut || (m.p.twoStroke && d >= top+m.closes()+transferLater): // it fills
			p += (filled - p) * cycleStep / blowsDownOver
		case d < opens:
			v, w := m.volume(d-top), m.volume(next-top)
			gamma := m.p.polytropic
			if burnt(next) > 0 && burns {
				gamma = hotGamma
			}
			p *= math.Pow(v/w, gamma) * math.Exp(-leak*cycleStep)
			p += (hotGamma - 1) * heat * (burnt(next) - burnt(d)) * m.p.displacement / w
		default:
			p += (back - p) * cycleStep / blowsDownOver
		}
	}
	return out
}

// beats are the cycles of a second: how many it has at its speed, and which of them burn.
func (m *Machine) beats(at *setting, cranked bool) string {
	n := int(math.Round(1 / m.cycleSeconds(at.rpm)))
	missed := 1.0
	if !cranked {
		missed = max(1-m.burnsAt(at), richMissed(at.lambda), leanMissed(at.lambda))
	}
	var out strings.Builder
	for i := range n {
		if _, x := math.Modf(float64(i+1) * golden); x < missed {
			out.WriteByte('0')
		} else {
			out.WriteByte('1')
		}
	}
	return out.String()
}

// burnsAt is the share of sparks that jump the gap at a setting, 0 to 1.
func (m *Machine) burnsAt(at *setting) float64 {
	_, _, eta := m.evaporation()
	t := m.turning(at.rpm, eta)
	return m.fire(t.kv, t.peak*at.manifold, 700, at.lambda)
}

// richMissed and leanMissed are the shares of firings that fail by the mixture alone, 0 where
// it is neither.
func richMissed(lambda float64) float64 {
	if lambda >= richMisses {
		return 0
	}
	return clamp((richMisses-lambda)/0.3, 0.1, 1) * richestShare
}

func leanMissed(lambda float64) float64 {
	if lambda <= stumbles {
		return 0
	}
	return clamp((lambda-stumbles)/0.4, 0.2, 1) * leanestShare
}
