package machine

import (
	"fmt"

	"zanjero/core/catalogue"
)

// gravityKPa is the head of a height of petrol in mm, kPa (p = ρgh, 745 kg/m³).
func gravityKPa(mm float64) float64 { return 745 * 9.80665 * mm / 1e6 }

// The families' constants. Tuned to practice, not to any maker's engine.
var families = map[string]params{
	"f4-bowl": {
		polytropic: 1.20, ringLeak: 0.30, valveLeak: 0.10, jointLeak: 0.02, decompressor: 1.1, closing: 5.3 / 7.5,
		wetOil: 3, gaugeVolume: 4, strokesPerPull: 2, rated: 3600, crank: 750, magnetRPM: 750,
		fireFloor: 0.22, fireSlope: 0.25, lambdaFlood: 0.38, advance: 25,
		throttleLoss: 0.06, exhaustLoss: 1.2, exhaustBack: 120,
		tankGive: 5600, mainJet: 0.55, pilotJet: 0.0112, pilotThroughMain: true, venturi: 4, emulsion: 0.25, chokeGain: 20, choke: chokeManual,
		rateML: 25, headKPa: gravityKPa(150), feedFilter: 120, feedLine: 250, vent: 2000, ventLeak: 2.6,
		warmUpMin: 2.5, rodSplash: true,
	},
	"f4-bail": {
		polytropic: 1.20, ringLeak: 0.33, valveLeak: 0.10, jointLeak: 0.02, closing: 5.2 / 7.0,
		wetOil: 3, gaugeVolume: 4, strokesPerPull: 2, rated: 3600, crank: 650, magnetRPM: 650,
		fireFloor: 0.22, fireSlope: 0.25, lambdaFlood: 0.38, advance: 25,
		throttleLoss: 0.06, exhaustLoss: 1.2, exhaustBack: 120,
		tankGive: 9000, mainJet: 0.60, pilotJet: 0.0152, pilotThroughMain: true, venturi: 4, emulsion: 0.20, chokeGain: 20, choke: chokePrimer,
		rateML: 24, headKPa: gravityKPa(120), feedFilter: 120, feedLine: 250, vent: 2000, ventLeak: 2.6,
		warmUpMin: 2.5, governedIdle: true, bar: true, rodSplash: true,
	},
	"t2-diaphragm": {
		polytropic: 1.27, ringLeak: 0.20, jointLeak: 0.01, closing: 6.0 / 7.8,
		wetOil: 0.7, gaugeVolume: 2, strokesPerPull: 5, rated: 8500, crank: 900, magnetRPM: 850,
		fireFloor: 0.125, fireSlope: 0.12, lambdaFlood: 0.30, advance: 27, twoStroke: true,
		throttleLoss: 0.05, exhaustLoss: 4, exhaustBack: 40,
		mainJet: 0.42, pilotJet: 0.0058, venturi: 6, emulsion: 0.10, chokeGain: 35, choke: chokeManual, primer: true,
		rateML: 18, headKPa: -gravityKPa(80), feedFilter: 6, feedLine: 12, vent: 200, ventLeak: 0.6, tankGive: 130, pumpKPa: 15,
		warmUpMin: 1.5,
	},
	"f4-suction": {
		polytropic: 1.20, ringLeak: 0.16, valveLeak: 0.05, jointLeak: 0.02, closing: 5.2 / 7.0,
		wetOil: 2, gaugeVolume: 4, strokesPerPull: 2, rated: 3600, crank: 750, magnetRPM: 750,
		fireFloor: 0.22, fireSlope: 0.25, lambdaFlood: 0.38, advance: 25,
		throttleLoss: 0.06, exhaustLoss: 1.2, exhaustBack: 120,
		tankGive: 1300, mainJet: 0.51, pilotJet: 0.0120, venturi: 4.5, emulsion: 0.12, chokeGain: 22, lift: 0.25, choke: chokeSuction,
		rateML: 13, headKPa: -gravityKPa(50), feedFilter: 60, feedLine: 120, vent: 2000, ventLeak: 1, pumpKPa: 2.5,
		warmUpMin: 2.5, rodSplash: true,
	},
}

// family gives the healthy parameters of a family with a sheet's figures put
// in, before build spread and faults.
func family(id string, s catalogue.Sheet) (params, error) {
	p, ok := families[id]
	if !ok {
		return params{}, fmt.Errorf("the model has no family %q", id)
	}
	at := func(figure string) float64 { return s[figure].Middle() }
	p.displacement, p.ratio = at("displacement_ml"), at("compression_ratio")
	// The charge is shut in late: by the inlet valve, or by the exhaust port.
	p.ratioIVC = 1 + (p.ratio-1)*p.closing
	p.governed, p.idle = at("governed_rpm"), at("idle_rpm")
	p.airGap, p.plugGap, p.lining = at("air_gap_mm"), at("plug_gap_mm"), 1
	p.plugHeld, p.headHeld, p.blade = 1, 1, 1
	p.primary, p.secondary = at("coil_primary_ohm"), at("coil_secondary_kohm")*1000
	p.bowlML, p.tankML = at("bowl_ml"), at("tank_ml")
	// Leaks of a build, and what it draws, grow with its size.
	nominal := map[string]float64{"f4-bowl": 163, "f4-bail": 173, "t2-diaphragm": 44, "f4-suction": 79}[id]
	size := p.displacement / nominal
	p.ringLeak, p.valveLeak, p.jointLeak, p.decompressor = p.ringLeak*size, p.valveLeak*size, p.jointLeak*size, p.decompressor*size
	p.rateML *= size
	p.feedFilter, p.feedLine = p.feedFilter*max(size, 1), p.feedLine*max(size, 1)
	// The sheet says which variant of the family it is.
	switch s["starting_aid"].Word {
	case "thermostat-choke":
		p.choke = chokeThermostat
	case "primer":
		p.choke = chokePrimer
	}
	p.oilSwitch = s["low_oil_switch"].Word == "fitted"
	p.fuelCut = s["fuel_cut"].Word == "fitted"
	p.advance = at("timing_deg")
	p.upSide = s["tip_side_up"].Word
	p.oneWayVent = s["cap_vents"].Word == "one-way-valve"
	p.magnet, p.coilScale, p.advanceSpec = 1, 1, p.advance
	p.mainOpen, p.pilotOpen, p.mainFlow, p.needleOpen, p.pumpEff, p.metering = 1, 1, 1, 1, 1, 1
	p.feedNeedle, p.friction = 400, 0.20
	if p.pumpKPa > 10 {
		p.feedNeedle = 100 // under a pump's pressure, not a head of millimetres
	}
	p.chokeMost, p.throttleFix, p.primerFills = 1, -1, 1
	p.plugShunt, p.plugFlash, p.leadFlash, p.coilOpenC = 1000, 99, 99, 999
	p.breathes, p.governorPull, p.fuelMix, p.oilLevel = 1, 1, 1, 1
	p.coilWarmUpMin, p.loadedCoilRise, p.unloadedCoilRise = 8, 75, 60
	p.unloadedEngineRise, p.extraEngineRise = 65, 15
	return p, nil
}
