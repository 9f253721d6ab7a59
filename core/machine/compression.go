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
	return m.p.ringLeak*(1-0.8*sealed)*(1-0.25*hot) + m.p.valveLeak + m.p.jointLeak
}

// kept is the share of the charge left after a stroke, without and with the
// decompressor's part.
func (m *Machine) kept(rpm float64) (f, dec float64) {
	vn := m.p.displacement * rpm
	f = math.Exp(-chokedLeak * m.leakArea() / vn)
	dec = 1
	if rpm < decompressorRelease {
		dec = math.Exp(-chokedLeak * 2 * m.p.decompressor / vn)
	}
	return f, dec
}

// inletKPa is the pressure the cylinder fills to at cranking speed. A shut
// throttle costs about a quarter of it, a shut choke a sixth (common practice:
// a gauge reads some 30 % low with the throttle shut).
func (m *Machine) inletKPa(throttle, choke float64) float64 {
	shut := 1 - clamp(throttle, 0, 1)
	return m.d.pressure * (0.97 - 0.25*shut*shut) * (1 - 0.16*sq(choke))
}

// PeakKPa is the cylinder's peak pressure in kPa absolute at a crank speed,
// with throttle and choke as they stand and the oil that is in the bore.
func (m *Machine) PeakKPa(rpm float64) float64 {
	f, dec := m.kept(rpm)
	vc := m.d.clearance
	rise := m.d.compressionRise
	if oil := math.Min(m.s.BoreOilML, m.p.wetOil); oil > 0 {
		rise = math.Pow(1+(m.p.ratioIVC-1)*vc/(vc-0.6*oil), m.p.polytropic)
	}
	return m.inletKPa(m.s.Controls.Throttle, m.s.Controls.Choke) * rise * f * dec
}

// GaugeStep moves a compression gauge with a check valve on by one pull of the
// rope at a crank speed: from and to in kPa above atmosphere.
func (m *Machine) GaugeStep(from, rpm float64) float64 {
	peak := math.Max(m.PeakKPa(rpm)-m.d.pressure, 0)
	share := m.d.clearance / (m.d.clearance + m.p.gaugeVolume)
	for range m.p.strokesPerPull {
		if peak > from {
			from += (peak - from) * share
		}
	}
	return from
}

// OilBore puts oil into the bore, ml, as for a wet test.
func (m *Machine) OilBore() { m.s.BoreOilML = m.p.wetOil }
