package machine

import "math"

// chokedLeak is 0.685·√(RT)·30/0.3 in mm², ml and rpm: the share of a charge
// lost in a stroke through a leak with choked flow is 1 − exp(−chokedLeak·A/(V·N)).
// Source: choked orifice flow, any textbook of gas dynamics.
const chokedLeak = 24600

// decompressorRelease is the crank speed in rpm above which the automatic
// decompressor lets go.
const decompressorRelease = 1100

// leakArea is the total leak in mm² with oil in the bore (ml) at the present
// temperature: oil seals rings, heat closes their gaps.
func (m *Machine) leakArea() float64 {
	sealed := clamp(m.s.BoreOilML/m.p.wetOil, 0, 1)
	hot := clamp((m.s.EngineC-20)/80, 0, 1)
	return (m.p.ringLeak+m.s.Worn)*(1-0.8*sealed*(1-m.p.oilBlind))*(1-0.25*hot) + m.p.valveLeak + m.p.hotLeak*hot + m.p.jointLeak
}

// kept is the share of the charge left after a stroke, without and with the
// decompressor's part.
func (m *Machine) kept(rpm float64) (f, dec float64) {
	vn := m.p.displacement * rpm
	f = math.Exp(-chokedLeak * m.leakArea() / vn)
	dec = 1
	if m.p.decompressor > 0 && (rpm < decompressorRelease || m.p.decHeld) {
		dec = math.Exp(-chokedLeak * 2 * m.p.decompressor / vn)
	}
	return f, dec
}

// inletKPa is the pressure the cylinder fills to at cranking speed. A shut
// throttle costs about a quarter of it, a shut choke a sixth (common practice:
// a gauge reads some 30 % low with the throttle shut).
func (m *Machine) inletKPa(throttle, choke float64) float64 {
	shut := 1 - clamp(throttle, 0, 1)
	return m.d.pressure * (0.97 - 0.25*shut*shut) * (1 - 0.16*sq(choke)) * (1 - 0.85*m.p.inletShut)
}

// PeakKPa is the cylinder's peak pressure in kPa absolute at a crank speed,
// with throttle and choke as they stand, the oil that is in the bore, the fuel
// that lies on its walls, and deadML of an instrument's own space beside it.
func (m *Machine) PeakKPa(rpm, deadML float64) float64 {
	if m.p.rodBroken {
		return m.d.pressure
	}
	f, dec := m.kept(rpm)
	vc := m.d.clearance
	rise := m.d.compressionRise
	// Liquid takes up room and an instrument adds to it. A unit of film is a
	// charge's fuel: air of 1.2 g/l at 14.7 : 1, petrol of 745 g/l.
	liquid := 0.6*min(m.s.BoreOilML, m.p.wetOil) + 1.1e-4*m.p.displacement*m.s.Film + m.s.CylinderML
	if room := max(vc-liquid, 0.3*vc) + deadML; room != vc {
		rise = math.Pow(1+(m.p.ratioIVC-1)*vc/room, m.p.polytropic)
	}
	return m.inletKPa(m.s.Controls.Throttle, m.s.Controls.Choke) * rise * f * dec
}

// GaugeStep moves a compression gauge with a check valve on by one pull of the
// rope at a crank speed: from and to in kPa above atmosphere. A check valve at
// the gauge's end of the hose leaves the hose, deadML, to the cylinder.
func (m *Machine) GaugeStep(from, rpm, deadML float64) float64 {
	peak := max(m.PeakKPa(rpm, deadML)-m.d.pressure, 0)
	share := m.d.clearance / (m.d.clearance + m.p.gaugeVolume)
	for range m.p.strokesPerPull {
		if peak > from {
			from += (peak - from) * share
		}
	}
	return from
}

// WetOilML is the oil that a wet test of this engine takes, ml.
func (m *Machine) WetOilML() float64 { return m.p.wetOil }

// OilBore puts oil into the bore, ml, as for a wet test. What the rings cannot
// hold stands on the piston.
func (m *Machine) OilBore(ml float64) {
	m.s.BoreOilML = min(ml, 2*m.p.wetOil)
	m.s.CylinderML += max(ml-2*m.p.wetOil, 0)
}

// pourable is what a dose may put onto the piston and nobody minds, ml.
const pourable = 1.0

// Pour puts fuel through the plug's hole onto the piston, ml: beyond a few drops
// it stands there, and enough of it locks the crank.
func (m *Machine) Pour(ml float64) {
	m.s.CylinderML += max(ml-pourable, 0)
	m.s.PlugFilm += max(ml-teaspoonML, 0)
}

// LeakDown is the differential test: a supply in psi, 80 by the book, through an
// orifice of 0.040 in, with the piston at the top of compression. It gives the
// pressure held in the cylinder in psi and where the largest leak hisses. Source: FAA AC 43.13-1B
// (orifice and supply); the pressure solves A_o·p_s·ψ(p_c/p_s) = A·p_c·ψ(p_a/p_c)
// by bisection, ψ the flow function of a perfect gas with γ = 1.4.
func (m *Machine) LeakDown(supplyPSI float64) (psi float64, hiss string) {
	const orifice, psiKPa = 0.811, 6.894757
	supply := supplyPSI*psiKPa + m.d.pressure
	leak := m.leakArea()
	if m.p.rodBroken {
		leak = 1e3
	}
	low, high := m.d.pressure, supply
	for range 60 {
		mid := (low + high) / 2
		if orifice*supply*flowFunction(mid/supply) > leak*mid*flowFunction(m.d.pressure/mid) {
			low = mid
		} else {
			high = mid
		}
	}
	rings := (m.p.ringLeak + m.s.Worn)
	switch {
	case m.p.jointLeak > rings && m.p.jointLeak > m.p.valveLeak:
		if hiss = "joint"; m.p.threadLeak > m.p.jointLeak/2 {
			hiss = "plug"
		}
	case m.p.valveLeak > rings && m.p.spits > 0:
		hiss = "carburettor"
	case m.p.valveLeak > rings:
		hiss = "exhaust"
	case m.p.twoStroke:
		hiss = "crankcase"
	default:
		hiss = "oil-filler"
	}
	return (low - m.d.pressure) / psiKPa, hiss
}

// flowFunction is ψ(r) = √(7(r^1.4286 − r^1.7143)) of a perfect gas, γ = 1.4,
// choked below r = 0.5283.
func flowFunction(r float64) float64 {
	r = max(min(r, 1), 0.5283)
	return math.Sqrt(max(7*(math.Pow(r, 1.4286)-math.Pow(r, 1.7143)), 0))
}
