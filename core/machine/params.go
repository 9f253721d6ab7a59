// Package machine is the causal model of a small engine: parameters, state and
// controls in, behaviour out. Symptoms, readings, beliefs, difficulty and marks
// all come from it; there is no second table of what to expect.
//
// Units: pressures kPa absolute, temperatures °C, leak areas mm², volumes ml,
// flows ml/min, voltages kV, resistances MΩ at the plug and Ω in windings,
// times minutes. φ is the fuel-air equivalence ratio and λ its inverse.
//
// The constants are tuned to what the trade expects of such engines (common
// practice), not to any maker's engine; docs/model.md names the published
// source of each equation.
package machine

import (
	"fmt"
	"math"

	"zanjero/core/catalogue"
	"zanjero/core/units"
)

// Version names the model. It changes whenever a reading could change.
const Version = "2026.1"

// Ambient is the day the work is done on.
type Ambient struct {
	TemperatureC float64 `json:"temperature_c"`
	AltitudeM    float64 `json:"altitude_m"`
}

// FaultSpec is a fault as it was hidden: which one, and how far gone. Severity
// is ignored for faults that are there or not.
type FaultSpec struct {
	ID       string  `json:"id"`
	Severity float64 `json:"severity,omitempty"`
}

// Build is the spread between healthy specimens of one build, as factors near
// one. The zero value stands for a specimen in the middle of every band.
type Build struct{ Leak, Winding, Magnet, Metering, Flow float64 }

// BuildSpread is the relative standard deviation of each factor of a Build
// (common practice: specimens of a build differ by a few per cent).
const BuildSpread = 0.03

// params is everything about one specimen that a fault can alter, beside the
// constants of its family and the figures of its sheet.
type params struct {
	// compression: displacement ml, geometric and effective ratio, polytropic
	// exponent, leak areas, decompressor area, wet-test oil, gauge volume
	displacement, ratio, ratioIVC, polytropic float64
	ringLeak, valveLeak, jointLeak            float64
	decompressor                              float64
	wetOil, gaugeVolume                       float64
	strokesPerPull                            int

	// speeds, rpm
	rated, governed, idle, crank, magnetRPM float64
	// firing strength at which ignition starts to count, the slope above it
	// and the λ below which a rich charge will not light
	fireFloor, fireSlope, lambdaFlood float64

	// ignition
	magnet, airGap, plugGap  float64
	primary, secondary       float64 // Ω at 20 °C
	secondaryOpen, foundStop bool
	advance, advanceSpec     float64 // degrees before top dead centre

	// air: throttle, exhaust and filter losses
	throttleLoss, exhaustLoss, exhaustBack, filterShut float64

	// metering: jet constants and the share of each that is open
	mainJet, pilotJet, venturi, emulsion, chokeGain float64
	mainOpen, pilotOpen                             float64

	// supply: consumption at rated load, bowl, tank, head, conductances
	// (ml/min per kPa), vent conductance open and leaking
	rateML, bowlML, tankML, headKPa     float64
	feedFilter, feedLine, feedNeedle    float64
	vent, ventLeak                      float64
	friction, warmUpMin, coilWarmUpMin  float64
	loadedCoilRise, unloadedCoilRise    float64
	unloadedEngineRise, extraEngineRise float64
}

// family gives the healthy parameters of a family with a sheet's figures put
// in, before build spread and faults.
func family(id string, s catalogue.Sheet) (params, error) {
	if id != "f4-bowl" {
		return params{}, fmt.Errorf("the model has no family %q", id)
	}
	head := 745 * 9.80665 * 0.150 / 1000 // ρgh of 150 mm of petrol, kPa (textbook)
	return params{
		displacement: s["displacement_ml"].Middle(), ratio: s["compression_ratio"].Middle(),
		// Late inlet closing takes about a quarter off the ratio: 6.3 of 8.5.
		ratioIVC: 1 + (s["compression_ratio"].Middle()-1)*5.3/7.5, polytropic: 1.20,
		ringLeak: 0.30, valveLeak: 0.10, jointLeak: 0.02, decompressor: 1.1,
		wetOil: 3, gaugeVolume: 4, strokesPerPull: 2,
		rated: 3600, governed: s["governed_rpm"].Middle(), idle: s["idle_rpm"].Middle(), crank: 750, magnetRPM: 750,
		fireFloor: 0.22, fireSlope: 0.25, lambdaFlood: 0.38,
		magnet: 1, airGap: s["air_gap_mm"].Middle(), plugGap: s["plug_gap_mm"].Middle(),
		primary: s["coil_primary_ohm"].Middle(), secondary: s["coil_secondary_kohm"].Middle() * 1000,
		advance: 25, advanceSpec: 25,
		throttleLoss: 0.06, exhaustLoss: 1.2, exhaustBack: 120,
		mainJet: 0.55, pilotJet: 0.0112, venturi: 4, emulsion: 0.25, chokeGain: 20, mainOpen: 1, pilotOpen: 1,
		rateML: 25, bowlML: s["bowl_ml"].Middle(), tankML: s["tank_ml"].Middle(), headKPa: head,
		feedFilter: 120, feedLine: 250, feedNeedle: 400, vent: 2000, ventLeak: 1,
		friction: 0.20, warmUpMin: 2.5, coilWarmUpMin: 8,
		loadedCoilRise: 75, unloadedCoilRise: 60, unloadedEngineRise: 65, extraEngineRise: 15,
	}, nil
}

func (p *params) specimen(b Build) {
	p.ringLeak *= 1 + b.Leak
	p.primary *= 1 + b.Winding
	p.secondary *= 1 + b.Winding
	p.magnet *= 1 + b.Magnet
	p.mainJet *= 1 + b.Metering
	p.feedFilter *= 1 + b.Flow
	p.feedLine *= 1 + b.Flow
}

// laws says what each fault changes, at severity s from 0 to 1. A fault never
// carries readings of its own.
var laws = map[string]func(p *params, s float64){
	"main-jet-blocked":    func(p *params, s float64) { p.mainOpen *= 1 - s },
	"cap-vent-blocked":    func(p *params, s float64) { p.vent *= (1 - s) * (1 - s) },
	"coil-secondary-open": func(p *params, _ float64) { p.secondaryOpen = true },
	"rings-worn":          func(p *params, s float64) { p.ringLeak += 0.022 * p.displacement * s },
	"switch-off":          func(p *params, _ float64) { p.foundStop = true },
}

// derived holds what follows from parameters and ambient alone, so that a
// steady-state evaluation need not work it out again.
type derived struct {
	pressure, density   float64 // kPa; relative to 20 °C at sea level
	compressionRise     float64 // p2/p1 of the sealed charge
	clearance, timing   float64 // ml; share of torque left by the timing
	pilotConductance    float64
	feedConductance     float64
	idleStop            float64 // throttle opening at the idle stop
	leakArea            float64 // mm², cold and dry
	crankTemperatureRiK float64 // K added to the charge by compression
}

func (p *params) derive(a Ambient) derived {
	pr := units.StandardPressureKPa(a.AltitudeM)
	main, pilot := p.mainJet*p.mainOpen, p.pilotJet*p.pilotOpen
	d := derived{
		pressure: pr, density: pr / units.SeaLevelKPa * 293.15 / (273.15 + a.TemperatureC),
		compressionRise: math.Pow(p.ratioIVC, p.polytropic),
		clearance:       p.displacement / (p.ratio - 1),
		timing:          1 - sq((p.advance-p.advanceSpec)/45),
		leakArea:        p.ringLeak + p.valveLeak + p.jointLeak,
		feedConductance: series(series(p.feedFilter, p.feedLine), p.feedNeedle),
	}
	d.crankTemperatureRiK = 293 * math.Pow(p.ratioIVC, p.polytropic-1)
	// The bowl feeds the pilot through the main jet's well, so the two stand in
	// series (orifices in series add as 1/J²).
	if main > 0 && pilot > 0 {
		d.pilotConductance = main * pilot / math.Sqrt(main*main+pilot*pilot)
	}
	return d
}

func sq(x float64) float64 { return x * x }

// series is the conductance of two laminar conductances in series.
func series(a, b float64) float64 {
	if a+b == 0 {
		return 0
	}
	return a * b / (a + b)
}

func clamp(x, low, high float64) float64 { return math.Min(math.Max(x, low), high) }
