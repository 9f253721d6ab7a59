// Package aids does the small sums of the workshop. The formula of each, its
// source and where it stops being true stand in the message files under its id.
package aids

import (
	"math"
	"slices"

	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/units"
)

// Aid is one sum with what it asks for.
type Aid struct {
	ID     string  `json:"id"`
	Inputs []Input `json:"inputs"`
	// Table is a little of it to read off, where people would rather.
	Table   *Table `json:"table,omitempty"`
	compute func(v func(id string) float64) []Result
}

// Table is a grid of figures with the id of a head to each column.
type Table struct {
	Heads []string    `json:"heads"`
	Rows  [][]float64 `json:"rows"`
}

// Input is one figure that an aid asks for, within a range, as it first stands.
type Input struct {
	ID    string  `json:"id"`
	Unit  string  `json:"unit"`
	Start float64 `json:"start"`
	Low   float64 `json:"low"`
	High  float64 `json:"high"`
}

// Result is one figure that comes out, by the id of what it is; Says is the id
// of what it means, where it means something by itself.
type Result struct {
	ID    string  `json:"id"`
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
			return nil, problem.New(in.ID, "aids.out-range", "input", in.ID, "value", v, "unit", in.Unit, "low", in.Low, "high", in.High)
		}
		at[in.ID] = v
	}
	for id := range values {
		if _, known := at[id]; !known {
			return nil, problem.New(id, "aids.sum-does-not-ask")
		}
	}
	return a.compute(func(id string) float64 { return at[id] }), nil
}

var all = []Aid{
	{"premix",
		[]Input{{"fuel", "L", 5, 0.1, 100}, {"ratio", "", 40, 10, 100}}, nil,
		func(v func(string) float64) []Result {
			return []Result{{"oil", 1000 * v("fuel") / v("ratio"), "ml", ""}}
		}},
	{"premix-ratio",
		[]Input{{"fuel", "L", 5, 0.1, 100}, {"oil", "ml", 125, 1, 10000}}, nil,
		func(v func(string) float64) []Result {
			return []Result{{"ratio-to-1", 1000 * v("fuel") / v("oil"), "", ""}}
		}},
	{"compression-altitude",
		[]Input{{"psi", "psi", 62, 0, 300}, {"from", "m", 1500, -400, 5000}, {"to", "m", 0, -400, 5000}}, nil,
		func(v func(string) float64) []Result {
			p1, p2 := units.StandardPressureKPa(v("from")), units.StandardPressureKPa(v("to"))
			return []Result{{"it-would-read", v("psi") * p2 / p1, "psi", ""}, {"air-where-it-was-taken", p1, "kPa", ""}}
		}},
	{"coil-temperature",
		[]Input{{"ohm", "ohm-or-kohm", 1.1, 0.01, 100000}, {"c", "°C", 60, -40, 180}}, nil,
		func(v func(string) float64) []Result {
			return []Result{{"at-20-c", v("ohm") / units.CopperResistance(1, v("c")), "same", ""}}
		}},
	{"spark-gap",
		[]Input{{"mm", "mm", 12, 0, 27}}, nil,
		func(v func(string) float64) []Result {
			return []Result{{"that-takes-about", needleKV(v("mm")), "kV", ""}}
		}},
	{"plug-gap",
		[]Input{{"gap", "mm", 0.7, 0.2, 2}, {"psi", "psi", 62, 0, 300}, {"c", "°C", 200, -20, 400}}, nil,
		func(v func(string) float64) []Result {
			need := plugKV(v("gap"), v("psi"), v("c"))
			return []Result{{"in-the-cylinder", need, "kV", ""}, {"in-open-air", plugKV(v("gap"), 0, 20), "kV", "spark-in-air"},
				{"as-a-tester-s-gap", machine.NeedleGapMM(need), "mm", ""}}
		}},
	{"wet-dry",
		[]Input{{"dry", "psi", 35, 1, 300}, {"wet", "psi", 60, 1, 400}}, nil,
		func(v func(string) float64) []Result {
			r := v("wet") / v("dry")
			says := "between"
			switch {
			case r < 1:
				says = "take-again"
			case r <= 1.25:
				says = "sound-or-valve"
			case r >= 1.6:
				says = "rings"
			}
			return []Result{{"ratio", r, "", says}}
		}},
	{"tank-vacuum",
		[]Input{{"head", "ml", 1000, 10, 50000}, {"drawn", "ml", 15, 0, 5000}}, nil,
		func(v func(string) float64) []Result {
			kpa := units.SeaLevelKPa * v("drawn") / (v("head") + v("drawn"))
			return []Result{{"below-the-air-outside", kpa, "kPa", ""}, {"holds-back-petrol-of", kpa / 0.745 / 9.81 * 1000, "mm-of-head", ""}}
		}},
	{"leak-down",
		[]Input{{"supply", "psi", 80, 20, 150}, {"held", "psi", 74, 0, 150}}, nil,
		func(v func(string) float64) []Result {
			return []Result{{"lost", 100 * (v("supply") - v("held")) / v("supply"), "%", ""}}
		}},
	{"head",
		[]Input{{"mm", "mm", 200, 0, 2000}}, nil,
		func(v func(string) float64) []Result {
			return []Result{{"pressure", 745 * 9.81 * v("mm") / 1e6, "kPa", ""}}
		}},
}

// plugKV is what a plug's gap asks for at a gauge pressure and temperature, kV.
func plugKV(gap, psi, c float64) float64 {
	kpa, _ := units.Convert(psi, units.PSI, units.KPa)
	return 0.8 * machine.PaschenKV((kpa+units.SeaLevelKPa)*7.5006*(293/(273+c))*gap/10)
}

// init fills the tables from the same sums.
func init() {
	spark := &Table{Heads: []string{"kv", "needles"}}
	for _, kv := range []float64{5, 10, 15, 20, 25, 30} {
		spark.Rows = append(spark.Rows, []float64{kv, machine.NeedleGapMM(kv)})
	}
	Find("spark-gap").Table = spark
	plug := &Table{Heads: []string{"gap", "psi-40", "psi-60", "psi-90", "psi-130"}}
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
		return nil, problem.In("unit", err)
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
