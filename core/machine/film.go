package machine

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
func (m *Machine) Film(a Attempt, d Draws, minutes float64, l Load) []Frame {
	frames := []Frame{m.frame(0, setting{}, a.Choke)}
	if m.locked() || m.p.recoilBroken {
		return frames
	}
	pulls, fired := m.crank(a, d)
	at := float64(pulls) * 0.05
	still := func(until float64) {
		for ; at < until; at += filmStep {
			m.Rest(filmStep)
			frames = append(frames, m.frame(at+filmStep, setting{}, a.Choke))
		}
	}
	crank := setting{rpm: m.p.crank, throttle: a.Throttle}
	in := m.intake(m.p.crank, a.Choke, m.s.BowlML/m.p.bowlML)
	m.metered(&in, a.Throttle, &crank.flow)
	frames = append(frames, m.frame(at, crank, a.Choke))
	if !fired || m.crankingEnd(true) == "kicks-back" || m.crankingEnd(true) == "runs-backwards" {
		still(at + filmAfter)
		return frames
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
		frames = append(frames, m.frame(at, set, choke))
	}
	return frames
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
