package machine

import "math"

// Film is a run behind the covers: frame by frame, with what goes on in the cylinder at each.
type Film struct {
	Frames []Frame `json:"frames"`
	// Turns are the cycles that the frames have, each once.
	Turns []Turn `json:"turns"`
	// Degrees of a cycle, and Top where in it the piston stands at the top to fire.
	Degrees float64 `json:"degrees"`
	Top     float64 `json:"top"`
}

// Frame is what goes on behind the covers at one moment.
type Frame struct {
	Minute float64 `json:"minute"`
	RPM    float64 `json:"rpm"`
	// TankVacuumKPa is below the air outside; FuelShare and BowlShare are of a
	// full tank and a full bowl or chamber.
	TankVacuumKPa float64 `json:"tank_vacuum_kpa"`
	FuelShare     float64 `json:"fuel_share"`
	BowlShare     float64 `json:"bowl_share"`
	// FlowMLMin is what comes in through the needle's line at most, UseMLMin what
	// the engine draws.
	FlowMLMin float64 `json:"flow_ml_min"`
	UseMLMin  float64 `json:"use_ml_min"`
	// ManifoldKPa is the depression behind the throttle, Charge the share of the
	// rated air, FalseAir that past the carburettor, Lambda the mixture.
	ManifoldKPa float64 `json:"manifold_kpa"`
	Charge      float64 `json:"charge"`
	FalseAir    float64 `json:"false_air"`
	Lambda      float64 `json:"lambda"`
	// SparkKV is at the plug, LeakShare of the charge past rings, valves and gasket.
	SparkKV   float64 `json:"spark_kv"`
	LeakShare float64 `json:"leak_share"`
	// PumpKPa is what the diaphragm pump gives, 0 where there is none.
	PumpKPa  float64 `json:"pump_kpa"`
	Choke    float64 `json:"choke"`
	Throttle float64 `json:"throttle"`
	EngineC  float64 `json:"engine_c"`
	CoilC    float64 `json:"coil_c"`
	// Turn is the place of its cycle among the film's, −1 where the crank stands.
	Turn int `json:"turn"`
}

// filmStep is the time between frames, minutes, and filmAfter how long it is
// watched once it stands.
const (
	filmStep  = 0.1
	filmAfter = 2.0
)

// Film starts it and lets it run under a load for some minutes, frame by
// frame; it is watched for two minutes more when it stops. The first frame is
// before the first pull.
func (m *Machine) Film(a Attempt, d Draws, minutes float64, l Load) Film {
	f := filming{m: m, known: map[turnKey]int{}}
	f.film.Degrees, f.film.Top = m.cycle()
	f.film.Turns = []Turn{}
	f.run(a, d, minutes, l)
	return f.film
}

// filming is a film that is being made.
type filming struct {
	m     *Machine
	film  Film
	known map[turnKey]int
}

// turnKey is what a cycle hangs on, as coarse as the eye is: speed, charge, mixture, spark,
// leak and timing.
type turnKey [8]int

// add takes a frame in, with its cycle.
func (f *filming) add(minute float64, at setting, choke float64, cranked bool) {
	m := f.m
	x := m.frame(minute, at, choke)
	x.Turn = -1
	if at.rpm > 0 {
		if at.lambda == 0 {
			at.lambda = x.Lambda
		}
		key := turnKey{int(math.Log(at.rpm) / 0.04), int(at.air * 20), int(at.lambda * 20), int(x.SparkKV), int(x.LeakShare * 40), int(m.FiringDegrees()),
			int(at.manifold * 20), int(m.s.EngineC / 60)}
		i, known := f.known[key]
		if !known {
			i = len(f.film.Turns)
			f.known[key], f.film.Turns = i, append(f.film.Turns, m.turn(&at, cranked))
		}
		x.Turn = i
	}
	f.film.Frames = append(f.film.Frames, x)
}

func (f *filming) run(a Attempt, d Draws, minutes float64, l Load) {
	m := f.m
	f.add(0, setting{}, a.Choke, false)
	if m.locked() || m.p.recoilBroken {
		return
	}
	pulls, fired := m.crank(a, d)
	at := float64(pulls) * 0.05
	still := func(until float64) {
		for ; at < until; at += filmStep {
			m.Rest(filmStep)
			f.add(at+filmStep, setting{}, a.Choke, false)
		}
	}
	crank := setting{rpm: m.p.crank, throttle: a.Throttle}
	in := m.intake(m.p.crank, a.Choke, m.s.BowlML/m.p.bowlML)
	m.metered(&in, a.Throttle, &crank.flow)
	f.add(at, crank, a.Choke, true)
	if !fired || m.crankingEnd(true) == "kicks-back" || m.crankingEnd(true) == "runs-backwards" {
		still(at + filmAfter)
		return
	}
	near, end := 0.0, at+minutes
	for at < end {
		// The operator opens the choke as it warms, as far as it likes.
		load := l
		if at < 0.6 {
			load = LoadNone
		}
		choke, _, ok := m.bestChoke(load, near)
		if !ok {
			choke = 0
		}
		set, runs := m.settle(load, choke, m.s.BowlML/m.p.bowlML, near)
		if !runs {
			still(at + filmAfter)
			break
		}
		near = set.throttle
		m.run(filmStep, load, choke, near, false)
		at += filmStep
		f.add(at, set, choke, false)
	}
}

func (m *Machine) frame(minute float64, at setting, choke float64) Frame {
	f := Frame{Minute: minute, RPM: at.rpm, TankVacuumKPa: m.s.TankVacuumKPa, FuelShare: m.s.FuelML / m.p.tankML, BowlShare: m.s.BowlML / m.p.bowlML,
		Choke: choke, Throttle: at.throttle, EngineC: m.s.EngineC, CoilC: m.s.CoilC}
	x := at.rpm / m.p.rated
	f.FlowMLMin = m.feed(x, choke)
	if m.p.pumpKPa > 0 {
		f.PumpKPa = m.feedKPa(x, choke)
	}
	if at.rpm == 0 {
		return f
	}
	kept, dec := m.kept(at.rpm)
	f.ManifoldKPa, f.Charge, f.FalseAir = (1-at.manifold)*m.d.pressure, at.air, at.falseAir
	f.Lambda, f.UseMLMin = min(max(at.lambda, 0.3), 3), at.fuelMLMin
	if at.lambda == 0 { // while cranking
		f.Lambda, f.UseMLMin = min(1/max(at.phi, 0.34), 3), at.phi*at.air*m.p.rateML
	}
	f.LeakShare, f.SparkKV = 1-kept*dec, m.plugKV(m.coilKV(at.rpm), m.s.Wet())
	return f
}
