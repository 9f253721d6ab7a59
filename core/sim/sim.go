package sim

import (
	"io"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/setup"
	"zanjero/core/units"
)

// SimOutput is what one simulated machine came to.
type SimOutput struct {
	ModelVersion string              `json:"model_version"`
	Observations []bench.Observation `json:"observations"`
	State        SimState            `json:"state"`
	Warnings     []problem.Problem   `json:"warnings"`
}

// SimState is the machine and the bench at the end.
type SimState struct {
	Minutes       float64        `json:"minutes"`
	Money         float64        `json:"money"`
	Controls      setup.Settings `json:"controls"`
	Open          []string       `json:"open"`
	EngineC       float64        `json:"engine_c"`
	CoilC         float64        `json:"coil_c"`
	FuelML        float64        `json:"fuel_ml"`
	BowlML        float64        `json:"bowl_ml"`
	TankVacuumKPa float64        `json:"tank_vacuum_kpa"`
	Plug          string         `json:"plug"`
	SpiltML       float64        `json:"spilt_ml"`
	Precautions   []string       `json:"precautions"`
	// NotReady is how it differs from a machine that is ready to return.
	NotReady []bench.Left `json:"not_ready"`
}

// Limits on what one simulation may hold, so that a slip cannot ask for days.
const (
	MaxEvents   = 500
	MaxFaults   = 10
	maxWaitMin  = 7 * 24 * 60
	maxSimBytes = 1 << 20
)

// simEvent is one event of the input, checked: something to do at the bench.
type simEvent func(s *bench.Session, out *SimOutput)

type simInput struct {
	family   string
	sheet    catalogue.Sheet
	stated   catalogue.Sheet // what of it the input gives
	ambient  machine.Ambient
	faults   []machine.FaultSpec
	options  bench.Options
	events   []simEvent
	warnings []problem.Problem
}

// Simulate runs one machine from JSON in the form of the command line's `sim`.
// Whatever is wrong with the input comes back as a *Problem.
func Simulate(r io.Reader) (*SimOutput, error) {
	raw, err := io.ReadAll(io.LimitReader(r, maxSimBytes+1))
	if err != nil {
		return nil, err
	}
	if len(raw) > maxSimBytes {
		return nil, problem.New("", "sim.input-over-1-mib")
	}
	in, wrong := parseSim(raw)
	if wrong != nil {
		return nil, wrong
	}
	s, err := bench.NewSession(in.family, in.sheet, in.ambient, in.faults, in.options)
	if err != nil {
		return nil, problem.In("machine", err)
	}
	out := &SimOutput{ModelVersion: machine.Version, Observations: []bench.Observation{}, Warnings: in.warnings}
	for i, e := range in.events {
		s.Number(i)
		e(s, out)
	}
	st := s.Machine().State()
	out.State = SimState{Minutes: units.Round(s.Minutes(), 0.1), Money: s.Money(), Controls: s.Controls(), Open: s.Open(),
		EngineC: units.Round(st.EngineC, 0.1), CoilC: units.Round(st.CoilC, 0.1), FuelML: units.Round(st.FuelML, 0.1), BowlML: units.Round(st.BowlML, 0.1),
		TankVacuumKPa: units.Round(st.TankVacuumKPa, 0.001), Plug: s.Machine().PlugFace(), SpiltML: units.Round(st.SpiltML, 0.1),
		Precautions: append([]string{}, s.Taken()...), NotReady: s.NotReady()}
	if out.State.Open == nil {
		out.State.Open = []string{}
	}
	return out, nil
}
