// Package aids does the small sums of the workshop. Each names its formula, its
// source, and where it stops being true.
package aids

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/units"
)

// Aid is one sum with what it asks for.
type Aid struct {
	ID      string  `json:"id"`
	Name    string  `json:"name"`
	Formula string  `json:"formula"`
	Source  string  `json:"source"`
	Limits  string  `json:"limits"`
	Inputs  []Input `json:"inputs"`
	// Table is a little of it to read off, where people would rather.
	Table   *Table `json:"table,omitempty"`
	compute func(v func(id string) float64) []Result
}

// Table is a grid of figures with a head to each column.
type Table struct {
	Heads []string    `json:"heads"`
	Rows  [][]float64 `json:"rows"`
}

// Input is one figure that an aid asks for, within a range, as it first stands.
type Input struct {
	ID    string  `json:"id"`
	Name  string  `json:"name"`
	Unit  string  `json:"unit"`
	Start float64 `json:"start"`
	Low   float64 `json:"low"`
	High  float64 `json:"high"`
}

// Result is one figure that comes out, with what it says.
type Result struct {
	Name  string  `json:"name"`
	Value float64 `json:"value"`
	Unit  string  `json:"unit"`
	Says  string  `json:"says,omitempty"`
}

// All lists the aids in the order in which they are offered.
func All() []Aid { return slices.Clone(all) }

// Find gives an aid by id, or nil.
func Find(id string) *Aid {
	i := slices.IndexFunc(all, func(a Aid) bool { return a.ID == id })
	if i < 0 {
		return nil
	}
	return &all[i]
}

// Compute does the sum. A figure that is left out stands as it starts; one that
// is out of its range is refused.
func (a *Aid) Compute(values map[string]float64) ([]Result, *problem.Problem) {
	at := map[string]float64{}
	for _, in := range a.Inputs {
		v, given := values[in.ID]
		if !given {
			v = in.Start
		}
		if !(v >= in.Low && v <= in.High) {
			return nil, &problem.Problem{Path: in.ID, Problem: fmt.Sprintf("%s of %g %s is out of range", strings.ToLower(in.Name), v, in.Unit), Mend: fmt.Sprintf("type a number from %g to %g", in.Low, in.High)}
		}
		at[in.ID] = v
	}
	for id := range values {
		if _, known := at[id]; !known {
			return nil, &problem.Problem{Path: id, Problem: "this sum does not ask for it", Mend: "leave it out"}
		}
	}
	return a.compute(func(id string) float64 { return at[id] }), nil
}

var all = []Aid{
	{"premix", "Oil for a mix", "oil = fuel ÷ ratio", "Arithmetic; the ratio is the machine's own", "Use the ratio on the machine's sheet or the oil's can, and never less oil than it says.",
		[]Input{{"fuel", "Fuel", "L", 5, 0.1, 100}, {"ratio", "Ratio, to 1", "", 40, 10, 100}}, nil,
		func(v func(string) float64) []Result {
			return []Result{{"Oil", 1000 * v("fuel") / v("ratio"), "ml", ""}}
		}},
	{"premix-ratio", "What a mix comes to", "ratio = fuel ÷ oil", "Arithmetic", "It takes the fuel to have had no oil before.",
		[]Input{{"fuel", "Fuel", "L", 5, 0.1, 100}, {"oil", "Oil", "ml", 125, 1, 10000}}, nil,
		func(v func(string) float64) []Result {
			return []Result{{"Ratio, to 1", 1000 * v("fuel") / v("oil"), "", ""}}
		}},
	{"compression-altitude", "Compression at another height", "p₂ = p₁ · P(h₂) ÷ P(h₁), P(h) = 101.325 (1 − 0.0065 h ÷ 288.15)^5.2559 kPa", "ISO 2533:1975, standard atmosphere; the gauge's reading goes with the air that is drawn in",
		"Weather moves the true pressure by two or three parts in a hundred.",
		[]Input{{"psi", "Gauge reads", "psi", 62, 0, 300}, {"from", "Taken at", "m", 1500, -400, 5000}, {"to", "Sheet is for", "m", 0, -400, 5000}}, nil,
		func(v func(string) float64) []Result {
			p1, p2 := units.StandardPressureKPa(v("from")), units.StandardPressureKPa(v("to"))
			return []Result{{"It would read", v("psi") * p2 / p1, "psi", ""}, {"Air where it was taken", p1, "kPa", ""}}
		}},
	{"coil-temperature", "Coil ohms at 20 °C", "R₂₀ = R ÷ (1 + 0.00393 (T − 20))", "IEC 60028, annealed copper", "For copper windings. A coil just off a hot engine is hotter inside than out.",
		[]Input{{"ohm", "Meter reads", "Ω or kΩ", 1.1, 0.01, 100000}, {"c", "Coil is at", "°C", 60, -40, 180}}, nil,
		func(v func(string) float64) []Result {
			return []Result{{"At 20 °C", v("ohm") / units.CopperResistance(1, v("c")), "same unit", ""}}
		}},
	{"spark-gap", "What a spark's length says", "by the table of gaps between needle points: 5 kV 4.2 mm, 10 kV 8.5 mm, 20 kV 17.5 mm, 30 kV 26.9 mm", "Handbook of spark gaps, peak voltage in dry air (from memory)", "Damp air and blunt points change it by a tenth or so.",
		[]Input{{"mm", "Jumps", "mm", 12, 0, 27}}, nil,
		func(v func(string) float64) []Result {
			return []Result{{"That takes about", needleKV(v("mm")), "kV", ""}}
		}},
	{"plug-gap", "What a plug asks for", "V = 0.8 · B·pd ÷ (ln(A·pd) − ln ln(1 + 1/γ)), pressure by temperature, A = 15, B = 365", "Paschen 1889, constants as in textbooks (from memory); 0.8 for sharp electrodes (common practice)", "A worn, round electrode asks for more, a lean charge for up to a third more.",
		[]Input{{"gap", "Plug gap", "mm", 0.7, 0.2, 2}, {"psi", "Compression, gauge", "psi", 62, 0, 300}, {"c", "Charge at", "°C", 200, -20, 400}}, nil,
		func(v func(string) float64) []Result {
			need := plugKV(v("gap"), v("psi"), v("c"))
			return []Result{{"In the cylinder", need, "kV", ""}, {"In open air", plugKV(v("gap"), 0, 20), "kV", "which is why a spark in air proves little"},
				{"As a tester's gap", machine.NeedleGapMM(need), "mm", ""}}
		}},
	{"wet-dry", "Wet against dry", "ratio = wet ÷ dry", "Common practice", "Oil raises a sound engine by about a fifth, so only the ratio tells; too much oil takes room and raises any engine.",
		[]Input{{"dry", "Dry", "psi", 35, 1, 300}, {"wet", "Wet", "psi", 60, 1, 400}}, nil,
		func(v func(string) float64) []Result {
			r := v("wet") / v("dry")
			says := "between the two: look further"
			switch {
			case r < 1:
				says = "wet cannot be lower: take both again"
			case r <= 1.25:
				says = "as a sound one, or a leak that oil does not seal: valve, gasket"
			case r >= 1.6:
				says = "the rings or the bore leak"
			}
			return []Result{{"Ratio", r, "", says}}
		}},
	{"tank-vacuum", "Vacuum of a tank that cannot breathe", "Δp = P · V ÷ (H + V)", "Boyle's law", "With the cap quite shut and the fuel not boiling.",
		[]Input{{"head", "Air above the fuel", "ml", 1000, 10, 50000}, {"drawn", "Fuel drawn since", "ml", 15, 0, 5000}}, nil,
		func(v func(string) float64) []Result {
			kpa := units.SeaLevelKPa * v("drawn") / (v("head") + v("drawn"))
			return []Result{{"Below the air outside", kpa, "kPa", ""}, {"Holds back petrol of", kpa / 0.745 / 9.81 * 1000, "mm of head", ""}}
		}},
	{"leak-down", "Share lost in a leak-down test", "lost = (supply − held) ÷ supply", "FAA AC 43.13-1B: 80 psi through an orifice of 0.040 in", "Only with the piston at the top of compression and the crank held.",
		[]Input{{"supply", "Supply", "psi", 80, 20, 150}, {"held", "Held", "psi", 74, 0, 150}}, nil,
		func(v func(string) float64) []Result {
			return []Result{{"Lost", 100 * (v("supply") - v("held")) / v("supply"), "%", ""}}
		}},
	{"head", "Head of petrol", "p = ρ g h, ρ = 745 kg/m³", "Textbook", "Fuel that is warm or mixed is lighter or heavier by a few parts in a hundred.",
		[]Input{{"mm", "Fall to the carburettor", "mm", 200, 0, 2000}}, nil,
		func(v func(string) float64) []Result {
			return []Result{{"Pressure", 745 * 9.81 * v("mm") / 1e6, "kPa", ""}}
		}},
}

// plugKV is what a plug's gap asks for at a gauge pressure and temperature, kV.
func plugKV(gap, psi, c float64) float64 {
	kpa, _ := units.Convert(psi, units.PSI, units.KPa)
	return 0.8 * machine.PaschenKV((kpa+units.SeaLevelKPa)*7.5006*(293/(273+c))*gap/10)
}

// init fills the tables from the same sums.
func init() {
	spark := &Table{Heads: []string{"kV", "mm between needles"}}
	for _, kv := range []float64{5, 10, 15, 20, 25, 30} {
		spark.Rows = append(spark.Rows, []float64{kv, machine.NeedleGapMM(kv)})
	}
	Find("spark-gap").Table = spark
	plug := &Table{Heads: []string{"gap, mm", "at 40 psi", "60", "90", "130 psi, in kV"}}
	for _, gap := range []float64{0.5, 0.6, 0.7, 0.8, 1.0} {
		row := []float64{gap}
		for _, psi := range []float64{40, 60, 90, 130} {
			row = append(row, math.Round(plugKV(gap, psi, 200)*10)/10)
		}
		plug.Rows = append(plug.Rows, row)
	}
	Find("plug-gap").Table = plug
}

// needleKV turns the table of needle gaps round, by halving.
func needleKV(mm float64) float64 {
	low, high := 0.0, 40.0
	for range 60 {
		if mid := (low + high) / 2; machine.NeedleGapMM(mid) < mm {
			low = mid
		} else {
			high = mid
		}
	}
	return math.Round(low*100) / 100
}

// Convert gives a value in every unit that measures the same, by unit.
func Convert(value float64, from string) ([]Result, *problem.Problem) {
	u, err := units.ParseUnit(from)
	if err != nil {
		return nil, &problem.Problem{Path: "unit", Problem: err.Error(), Mend: "choose a unit of the list"}
	}
	var out []Result
	for _, to := range units.Alike(u) {
		v, err := units.Convert(value, u, to)
		if err != nil {
			continue
		}
		out = append(out, Result{Value: v, Unit: string(to)})
	}
	return out, nil
}
