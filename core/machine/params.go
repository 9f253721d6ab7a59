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
	"math"

	"zanjero/core/units"
)

// Version names the model. It changes whenever a reading could change.
const Version = "2026.7"

// Ambient is the day the work is done on.
type Ambient struct {
	TemperatureC float64 `json:"temperature_c"`
	AltitudeM    float64 `json:"altitude_m"`
}

// FaultSpec is a fault as it was hidden: which one, how far gone, and which way
// for those that can go two ways. Severity is ignored for faults that are there
// or not; an empty mode is the first that the catalogue names.
type FaultSpec struct {
	ID       string  `json:"id"`
	Severity float64 `json:"severity,omitempty"`
	Mode     string  `json:"mode,omitempty"`
	// Cause is what led to it, one of those that the catalogue gives the fault;
	// empty where it is left open.
	Cause string `json:"cause,omitempty"`
}

// Build is the spread between healthy specimens of one build, as factors near
// one. The zero value stands for a specimen in the middle of every band.
type Build struct{ Leak, Winding, Magnet, Metering, Flow float64 }

// BuildSpread is the relative standard deviation of each factor of a Build
// (common practice: specimens of a build differ by a few per cent).
const BuildSpread = 0.03

// starting aids
type chokeKind uint8

const (
	chokeManual     chokeKind = iota
	chokePrimer               // a primer bulb and no plate
	chokeSuction              // shut at rest, drawn open by the engine's own vacuum
	chokeThermostat           // opened by the engine's heat
)

// params is everything about one specimen that a fault can alter, beside the
// constants of its family and the figures of its sheet. It is a plain value.
type params struct {
	// kind of engine
	twoStroke, governedIdle, bar, primer, rodSplash bool
	pilotThroughMain                                bool
	oneWayVent                                      bool
	choke                                           chokeKind
	upSide                                          string // that may be tipped up, by the sheet

	// compression: displacement ml, geometric and effective ratio, share of the
	// ratio left by late closing, polytropic exponent, leak areas, decompressor
	// area, wet-test oil, gauge volume
	displacement, ratio, ratioIVC, closing, polytropic float64
	ringLeak, valveLeak, jointLeak                     float64
	hotLeak, oilBlind                                  float64 // leak that heat opens; share of ring leak that oil cannot seal
	decompressor                                       float64
	decHeld                                            bool
	wetOil, gaugeVolume                                float64
	strokesPerPull                                     int
	seal                                               float64 // crankcase seal gone, 0..1

	// speeds, rpm
	rated, governed, idle, crank, magnetRPM float64
	governorPull                            float64 // 0: spring off
	// firing strength at which ignition starts to count, the slope above it
	// and the λ below which a rich charge will not light
	fireFloor, fireSlope, lambdaFlood float64

	// ignition
	magnet, coilScale, airGap, plugGap float64
	primary, secondary                 float64 // Ω at 20 °C
	secondaryOpen, foundStop, swarf    bool
	earthed                            float64 // 0 not … 0.7 and above always; between, now and then
	oilSwitch, sensorFailed            bool
	advance, advanceSpec               float64 // degrees before top dead centre
	key, keyWhole                      float64 // degrees the key has let the flywheel go; 1 if the key is whole
	nutLoose                           float64
	plugShunt, plugFlash, leadFlash    float64 // MΩ; kV
	plugCracked                        bool
	seriesKV, coilOpenC                float64

	// air: throttle, exhaust and filter losses
	throttleLoss, exhaustLoss, exhaustBack, filterShut float64
	arrestor, falseAir, breathes, throttleFix          float64
	chokeLeast, chokeMost                              float64

	// metering: jet constants and the share of each that is open
	mainJet, pilotJet, venturi, emulsion, chokeGain, lift float64
	mainOpen, pilotOpen, fuelMix                          float64
	mainFlow                                              float64 // what varnish, side holes or a screw leave of the main fuel
	flood, levelBias, stiff                               float64
	primerFills                                           float64
	debris                                                float64

	// supply: consumption at rated load, bowl, tank, head, conductances
	// (ml/min per kPa), vent conductance open and leaking, pump
	rateML, bowlML, tankML, headKPa              float64
	feedFilter, feedLine, feedNeedle, needleOpen float64
	vent, ventLeak                               float64
	tankGive                                     float64 // how much the tank gives, ml of air more in it
	pumpKPa, pumpEff, lineAir, metering, weep    float64
	tankEmpty, pickupOff, foundShut, cutStuck    bool
	// fuelCut: a valve at the bowl shuts the jet off when it is stopped.
	fuelCut                                    bool
	water, stale, ethanol                      float64
	noOil, oilRich, oilLevel, oilBurn          float64
	friction, drag, brake, warmUpMin           float64
	lining                                     float64 // what a worn blade brake still holds, 1 new
	burnt                                      float64 // how far an exhaust valve is burnt at its edge
	coilWarmUpMin                              float64
	loadedCoilRise, unloadedCoilRise, finsRise float64
	unloadedEngineRise, extraEngineRise        float64
	seized, rodBroken, recoilBroken, crankBent bool
	spits                                      float64 // intake valve lets the charge back
	dust                                       float64 // wear per hour through a torn filter
	breatherOff, torn, oilSoaked               bool
	noisy                                      float64
	peened                                     float64 // a key peened to hold, 0..1
	portShut                                   float64 // share of the exhaust port shut by carbon
	ragShut                                    float64 // share of the intake shut behind the filter
	grit                                       float64 // wear per hour of running from grit on the plug
	arcs                                       float64 // kV that stand past a broken secondary
	lineHeat                                   float64 // share of the engine's heat that its fuel line takes
	threadLeak                                 float64 // leak area past the plug's thread, mm²
	plugHot                                    float64 // how much too hot a plug is, below 0 too cold, in full steps of its range
	plugHeld, headHeld                         float64 // share of the torque that plug and head bolts still hold
	clutch                                     float64 // how far a centrifugal clutch does not let go
	blade                                      float64 // share of the blade's inertia that the crank still has
	inletShut                                  float64 // how far an intake valve does not open
	sealOut                                    float64 // how much of a seal's leak shows from inside out
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

// derived holds what follows from parameters and ambient alone, so that a
// steady-state evaluation need not work it out again.
type derived struct {
	pressure, density   float64 // kPa; relative to 20 °C at sea level
	compressionRise     float64 // p2/p1 of the sealed charge
	clearance, timing   float64 // ml; share of torque left by the timing
	pilotConductance    float64
	feedConductance     float64
	idleStop            float64 // throttle opening at the idle stop
	crankTemperatureRiK float64 // K added to the charge by compression
}

func (p *params) derive(a Ambient) derived {
	pr := units.StandardPressureKPa(a.AltitudeM)
	main, pilot := p.mainJet*p.mainOpen*p.mainFlow, p.pilotJet*p.pilotOpen
	d := derived{
		pressure: pr, density: pr / units.SeaLevelKPa * 293.15 / (273.15 + a.TemperatureC),
		compressionRise: math.Pow(p.ratioIVC, p.polytropic),
		clearance:       p.displacement / (p.ratio - 1),
		timing:          max(1-sq((p.advance+p.key-p.advanceSpec)/45), 0),
		feedConductance: series(series(p.feedFilter, p.feedLine), p.feedNeedle*p.needleOpen),
	}
	d.crankTemperatureRiK = 293 * math.Pow(p.ratioIVC, p.polytropic-1)
	d.pilotConductance = pilot
	// A bowl feeds the pilot through the main jet's well, so the two stand in
	// series (orifices in series add as 1/J²).
	if p.pilotThroughMain {
		d.pilotConductance = 0
		if main > 0 && pilot > 0 {
			d.pilotConductance = main * pilot / math.Sqrt(main*main+pilot*pilot)
		}
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

func clamp(x, low, high float64) float64 {
	// Not min and max: they take care of NaN and of the sign of zero, which costs
	// a tenth of all work here.
	if x < low {
		return low
	}
	if x > high {
		return high
	}
	return x
}
