package machine

import "math"

// A law says what a fault changes, at severity s from 0 to 1 and in a mode. A
// fault changes parameters and never carries readings of its own. A mode that
// a fault does not know is its first.
type law func(p *params, s float64, mode string)

// plain is a law without modes.
func plain(f func(p *params, s float64)) law {
	return func(p *params, s float64, _ string) { f(p, s) }
}

// flag is a law that is there or not.
func flag(f func(p *params)) law { return func(p *params, _ float64, _ string) { f(p) } }

// behind is how much more a leak behind the carburettor counts where the
// crankcase draws through it.
func (p *params) behind() float64 {
	if p.twoStroke {
		return 3.2
	}
	return 1
}

// ventShut is how far dirt shuts a vent before it no longer keeps up with what the
// engine draws at a working load.
const ventShut = 0.65

// ventAt is what a vent lets through with dirt in it. Up to ventShut an engine
// works on; from there it stops sooner and sooner, for what is left hardly keeps
// up: after a quarter of an hour first, after some minutes where nothing is left
// (common practice; shape chosen by us).
func (p *params) ventAt(s float64) float64 {
	bears := max(p.headKPa+0.8*p.pumpKPa, 0.1) // the vacuum that stops the fuel, kPa
	enough := 0.68*p.rateML/bears - p.ventLeak
	if s < ventShut {
		return enough + max(p.vent-enough, 0)*sq(1-s/ventShut)
	}
	return enough * (1 - math.Pow((s-ventShut)/(1-ventShut), 3))
}

// pass is what a passage lets through that is blocked by s.
func pass(s float64) float64 { return (1 - s) * (1 - s) }

var laws = map[string]law{
	// fuel: tank, vent and the way to the carburettor
	"tank-empty":        flag(func(p *params) { p.tankEmpty = true }),
	"fuel-stale":        plain(func(p *params, s float64) { p.stale = s; p.mainFlow *= 1 - 0.3*s; p.pilotOpen *= 1 - 0.6*s }),
	"fuel-water":        plain(func(p *params, s float64) { p.water = s }),
	"fuel-ethanol-high": plain(func(p *params, s float64) { p.ethanol = 0.10 + 0.20*s }),
	"premix-no-oil":     plain(func(p *params, s float64) { p.noOil = s; p.ringLeak += 1.5 * s; p.drag += 0.1 * s }),
	"premix-oil-rich":   plain(func(p *params, s float64) { p.oilRich = s; p.oilBurn += 0.6 * s; p.fuelMix *= 1 - 0.05*s }),
	"cap-vent-blocked":  plain(func(p *params, s float64) { p.vent = p.ventAt(s) }),
	"pickup-blocked":    plain(func(p *params, s float64) { p.feedFilter *= pass(s) }),
	"pickup-off":        flag(func(p *params) { p.pickupOff = true }),
	"filter-blocked":    plain(func(p *params, s float64) { p.feedFilter *= pass(s) }),
	"valve-shut":        flag(func(p *params) { p.foundShut = true }),
	"line-blocked":      plain(func(p *params, s float64) { p.feedLine *= pass(s) }),
	"line-cracked": plain(func(p *params, s float64) {
		p.weep += s
		if p.pumpKPa > 0 {
			p.lineAir = max(p.lineAir, s)
		} else {
			p.feedLine *= 1 - 0.3*s
		}
	}),
	"grommet-weep":         plain(func(p *params, s float64) { p.weep += s; p.lineAir = max(p.lineAir, 0.1*max(0, s-0.8)) }),
	"pulse-blocked":        plain(func(p *params, s float64) { p.pumpEff *= 1 - s }),
	"pump-diaphragm":       plain(func(p *params, s float64) { p.pumpEff *= 1 - s }),
	"pump-cover-loose":     plain(func(p *params, s float64) { p.pumpEff *= 1 - s; p.lineAir = max(p.lineAir, 0.3*s) }),
	"needle-stuck-shut":    plain(func(p *params, s float64) { p.needleOpen *= pass(s) }),
	"needle-leaks":         plain(func(p *params, s float64) { p.flood += 1.6 * s; p.levelBias += 0.5 * s }),
	"float-sunk":           plain(func(p *params, s float64) { p.flood += 1.6; p.levelBias += 0.5 }),
	"metering-cover-loose": plain(func(p *params, s float64) { p.metering *= 1 - s; p.lineAir = max(p.lineAir, 0.3*s) }),
	"metering-diaphragm": func(p *params, s float64, mode string) {
		if mode == "stiff" {
			p.stiff = s
		} else {
			p.metering *= 1 - s
		}
	},
	"fuel-cut-stuck": flag(func(p *params) { p.cutStuck = true }),
	// Air comes in where the screw was, so the choke has little to pull on.
	"screw-missing":    flag(func(p *params) { p.flood += 0.9; p.falseAir += 0.12; p.chokeMost = min(p.chokeMost, 0.3) }),
	"bowl-debris":      plain(func(p *params, s float64) { p.debris = s; p.mainOpen *= 1 - 0.4*s }),
	"bowl-gasket-weep": plain(func(p *params, s float64) { p.weep += s; p.levelBias -= 0.1 * s }),
	"vapour-lock":      plain(func(p *params, s float64) { p.lineHeat = 0.75 * s }),
	"cap-seal-swollen": plain(func(p *params, s float64) { p.vent = p.ventAt(s) }),
	"primer-valve": plain(func(p *params, s float64) {
		p.primerFills *= 1 - s
		if p.pumpKPa > 0 { // and lets air into the chamber while it runs
			p.lineAir = max(p.lineAir, 0.25*s)
		}
	}),
	// jets and enrichment
	"main-jet-blocked":  plain(func(p *params, s float64) { p.mainOpen *= 1 - s }),
	"pilot-jet-blocked": plain(func(p *params, s float64) { p.pilotOpen *= 1 - s }),
	"emulsion-blocked":  plain(func(p *params, s float64) { p.emulsion *= 1 + 4*s; p.mainFlow *= 1 - 0.35*s }),
	"screw-lean":        func(p *params, s float64, mode string) { p.screw(mode, 1-0.9*s) },
	"screw-rich":        func(p *params, s float64, mode string) { p.screw(mode, 1+0.9*s) },
	"primer-failed":     plain(func(p *params, s float64) { p.primerFills *= 1 - s }),
	// air
	"filter-clogged": plain(func(p *params, s float64) { p.filterShut = max(p.filterShut, s) }),
	"filter-oil-soaked": plain(func(p *params, s float64) {
		p.filterShut = max(p.filterShut, 0.9*s)
		p.oilBurn += 0.5 * s
		p.oilSoaked = true
	}),
	"filter-fuel-wet":         plain(func(p *params, s float64) { p.filterShut = max(p.filterShut, 0.9*s) }),
	"filter-torn":             plain(func(p *params, s float64) { p.torn = true; p.dust = 0.1 * s }),
	"intake-nest":             plain(func(p *params, s float64) { p.filterShut = max(p.filterShut, 0.9*s) }),
	"choke-stuck-open":        plain(func(p *params, s float64) { p.chokeMost = min(p.chokeMost, 1-s) }),
	"choke-stuck-shut":        plain(func(p *params, s float64) { p.chokeLeast = max(p.chokeLeast, s) }),
	"suction-diaphragm":       chokeStays,
	"auto-choke-misassembled": chokeStays,
	"choke-thermostat-stuck":  chokeStays,
	"control-cable-misset": func(p *params, s float64, mode string) {
		if mode == "stays-in-stop" {
			p.earthed = 1
		} else {
			p.chokeMost = min(p.chokeMost, 1-s)
			p.primerFills *= 1 - 0.5*s
		}
	},
	"governor-spring-off": plain(func(p *params, _ float64) { p.governorPull = 0 }),
	"governor-overspeed":  plain(func(p *params, s float64) { p.governed *= 1 + 0.25*s }),
	"throttle-stuck": func(p *params, s float64, mode string) {
		if p.throttleFix = 0.03 + 0.05*(1-s); mode == "open" {
			p.throttleFix = 0.4 + 0.6*s
		}
	},
	"carb-mount-loose":    plain(func(p *params, s float64) { p.falseAir += 0.10 * s * p.behind() }),
	"carb-gasket-leak":    plain(func(p *params, s float64) { p.falseAir += 0.08 * s * p.behind() }),
	"intake-boot-split":   plain(func(p *params, s float64) { p.falseAir += 0.12 * s * p.behind() }),
	"arrestor-clogged":    plain(func(p *params, s float64) { p.arrestor = max(p.arrestor, s) }),
	"exhaust-port-carbon": plain(func(p *params, s float64) { p.portShut = 0.85 * s }),
	"muffler-nest":        plain(func(p *params, s float64) { p.arrestor = max(p.arrestor, 0.95*s) }),
	"breather-off":        plain(func(p *params, s float64) { p.breatherOff = true; p.falseAir += 0.02 * s; p.oilBurn += 0.1 * s }),
	// spark
	"switch-off":        flag(func(p *params) { p.foundStop = true }),
	"kill-wire-earthed": plain(func(p *params, s float64) { p.earthed = max(p.earthed, s) }),
	"bar-cable-slack": plain(func(p *params, s float64) {
		p.brake += s * 0.2
		p.crank *= 1 - 0.35*s
		if s >= 0.5 {
			p.earthed = 1
		}
	}),
	"oil-low-cutout":    flag(func(p *params) { p.oilLevel = min(p.oilLevel, 0.4) }),
	"oil-sensor-failed": flag(func(p *params) { p.sensorFailed = true }),
	"plug-fouled":       plain(func(p *params, s float64) { p.plugShunt = math.Pow(10, 1.5-2.5*s) }),
	"plug-gap-wrong": func(p *params, s float64, mode string) {
		if mode == "closed" {
			p.plugGap *= 1 - 0.9*s
		} else {
			p.plugGap += 0.8 * s
		}
	},
	"plug-cracked": plain(func(p *params, s float64) { p.plugFlash = 11 - 6*s; p.plugCracked = true }),
	// A cold plug does not burn itself clean; a hot one lights the charge early, once
	// the engine is hot, and knocks.
	"plug-wrong-heat": func(p *params, s float64, mode string) {
		if mode == "hot" {
			p.plugHot = s
			p.noisy += 0.5 * s
			return
		}
		p.plugHot = -s
		p.plugShunt = min(p.plugShunt, math.Pow(10, 1.5-2.3*s))
	},
	"plug-loose": plain(func(p *params, s float64) {
		p.plugHeld *= 1 - 0.95*s
		p.jointLeak += 0.010 * p.displacement * s
	}),
	"plug-thread-stripped": plain(func(p *params, s float64) {
		p.plugHeld *= 1 - 0.9*s
		p.threadLeak = 0.012 * p.displacement * s
		p.jointLeak += p.threadLeak
	}),
	"boot-loose": plain(func(p *params, s float64) { p.seriesKV += 10 * s }),
	"lead-leaks": plain(func(p *params, s float64) { p.leadFlash = 16 - 12*s }),
	"coil-secondary-open": func(p *params, _ float64, mode string) {
		p.secondaryOpen = true
		if mode == "arcs" { // over its own break, inside: weak, and not to be measured in ohms
			p.arcs = 5
		}
	},
	"coil-primary-short":  plain(func(p *params, s float64) { p.primary *= 1 - 0.5*s; p.coilScale *= 1 - 0.8*s }),
	"coil-weak":           plain(func(p *params, s float64) { p.coilScale *= 1 - 0.65*s }),
	"coil-fails-hot":      plain(func(p *params, s float64) { p.coilOpenC = 110 - 50*s }),
	"points-oxidised":     plain(func(p *params, s float64) { p.coilScale *= 1 - s }),
	"gap-wide":            plain(func(p *params, s float64) { p.airGap += 0.9 * s }),
	"coil-swarf":          flag(func(p *params) { p.swarf = true }),
	"magnet-weak":         plain(func(p *params, s float64) { p.magnet *= 1 - 0.6*s }),
	"key-sheared":         turned,
	"flywheel-misindexed": func(p *params, s float64, mode string) { turned(p, s, mode); p.keyWhole = 1 },
	"flywheel-nut-loose":  plain(func(p *params, s float64) { p.nutLoose = s; p.noisy += s }),
	// turning and sealing
	"recoil-broken": flag(func(p *params) { p.recoilBroken = true }),
	"brake-worn":    plain(func(p *params, s float64) { p.lining *= 1 - 0.85*s }),
	"brake-drags":   plain(func(p *params, s float64) { p.crank *= 1 - 0.3*s; p.brake += 0.15 * s }),
	// A light flywheel counts on the blade's weight: loose, it lets the spark throw the
	// crank back as a sheared key does (common practice).
	"blade-loose":  plain(func(p *params, s float64) { p.blade = 1 - 0.8*s; p.noisy += 0.5 * s }),
	"clutch-drags": plain(func(p *params, s float64) { p.clutch = s; p.crank *= 1 - 0.1*s }),
	"crank-bent":   flag(func(p *params) { p.crankBent = true; p.noisy++ }),
	"rod-broken":   flag(func(p *params) { p.rodBroken = true }),
	"seized":       flag(func(p *params) { p.seized = true }),
	"decompressor-stuck": func(p *params, s float64, mode string) {
		if mode == "never" {
			p.decompressor *= 1 - s
		} else {
			p.decHeld = true
			p.decompressor *= 1 + 0.6*s
		}
	},
	"exhaust-valve-stuck": plain(func(p *params, s float64) { p.valveLeak += 0.4*s + 30*sq(max(0, s-0.3)) }),
	"intake-valve-leaks":  plain(func(p *params, s float64) { p.valveLeak += 0.4 * s; p.spits = s }),
	// A notch in the edge grows as the gas cuts it, and more when it is hot.
	"valve-burnt":           plain(func(p *params, s float64) { p.valveLeak += 0.35*s + 1.2*s*s; p.hotLeak += 0.3 * s; p.burnt = s }),
	"valve-clearance-tight": plain(func(p *params, s float64) { p.valveLeak += 0.3 * s; p.hotLeak += s }),
	"valve-clearance-wide": plain(func(p *params, s float64) {
		p.breathes *= 1 - 0.09*s
		p.noisy += 0.5 * s
		if s > 0.7 {
			p.decompressor = 0
		}
	}),
	"pushrod-bent": func(p *params, s float64, mode string) {
		p.noisy += 0.5 * s
		if mode == "ex" { // what is burnt cannot leave, and comes back through the intake
			p.portShut, p.spits = 0.95*s, 0.8*s
			p.breathes *= 1 - 0.5*s
			return
		}
		p.inletShut = 0.9 * s
		p.breathes *= 1 - p.inletShut
	},
	"head-bolts-loose":  plain(func(p *params, s float64) { p.headHeld = 1 - 0.8*s; p.jointLeak += 0.012 * p.displacement * s }),
	"head-gasket-leaks": plain(func(p *params, s float64) { p.jointLeak += 0.014 * p.displacement * s }),
	"rings-worn": plain(func(p *params, s float64) {
		if p.twoStroke {
			p.ringLeak += 1.4 * s * p.displacement / 44
		} else {
			p.ringLeak += 0.022 * p.displacement * s
			p.oilBurn += 0.7 * s
		}
	}),
	"bore-scored": plain(func(p *params, s float64) {
		was := p.ringLeak
		if p.twoStroke {
			p.ringLeak += 1.5 * s * p.displacement / 44
		} else {
			p.ringLeak += 0.020 * p.displacement * s
		}
		// Oil lies in a score and does not fill it.
		p.oilBlind = 0.5 * (1 - was/p.ringLeak)
	}),
	// A lip that has lost its spring holds pressure and lets air in (common practice;
	// share chosen by us).
	"crank-seal-leaks": func(p *params, s float64, mode string) {
		p.seal, p.sealOut = max(p.seal, s), 1
		if mode == "inward" {
			p.sealOut = 0.1
		}
	},
	"fins-packed":    plain(func(p *params, s float64) { p.finsRise += 120 * s }),
	"oil-overfilled": plain(func(p *params, s float64) { p.oilLevel = 1 + s; p.oilBurn += 0.9 * s; p.drag += 0.05 * s }),
	"oil-low":        plain(func(p *params, s float64) { p.oilLevel = min(p.oilLevel, 1-0.8*s) }),
	// what work has left behind
	"rag-in-intake":  plain(func(p *params, s float64) { p.ragShut = 0.97 * s; p.filterShut = max(p.filterShut, p.ragShut) }),
	"rinse-water":    plain(func(p *params, s float64) { p.water = max(p.water, 0.6*s) }),
	"gasket-swollen": plain(func(p *params, s float64) { p.falseAir += 0.06 * s; p.levelBias -= 0.3 * s }),
	"screw-lost":     plain(func(p *params, s float64) { p.falseAir += 0.08 * s }),
	"linkage-wrong-hole": func(p *params, s float64, mode string) {
		if mode == "fast" {
			p.governed *= 1 + 0.2*s
		} else {
			p.governed *= 1 - 0.2*s
		}
	},
	"jet-oversize": plain(func(p *params, s float64) { p.mainFlow *= 1 + 0.7*s }),
	"vent-drilled": plain(func(p *params, s float64) { p.vent *= 1 + 4*s; p.weep += 0.5 * s; p.water = max(p.water, 0.08*s) }),
	"key-peened":   plain(func(p *params, s float64) { p.peened = s; p.noisy += 0.3 * s }),
	"plug-gritted": plain(func(p *params, s float64) { p.grit = 0.4 * s; p.plugShunt = min(p.plugShunt, 30/(1+30*s)) }),
	// seen, and no part of how it runs
	"screen-holed": flag(func(*params) {}),
	"limiters-off": flag(func(*params) {}),
}

// chokeStays is a choke that moves by itself and does not: it stays open, or
// it stays shut.
func chokeStays(p *params, s float64, mode string) {
	if mode == "stays-shut" {
		p.chokeLeast = max(p.chokeLeast, s)
		return
	}
	p.chokeMost = min(p.chokeMost, 1-s)
}

// turned is a flywheel that has gone round on its crank: up to 60° either way.
func turned(p *params, s float64, mode string) {
	p.key = 60 * s
	if mode == "retarded" {
		p.key = -60 * s
	}
}

// screw turns the main (or only) mixture screw, or the low-speed one.
func (p *params) screw(mode string, by float64) {
	if mode == "low" {
		p.pilotOpen *= by
	} else {
		p.mainFlow *= by
		if !p.pilotThroughMain && p.choke == chokeSuction {
			p.pilotOpen *= by // one screw for all
		}
	}
}
