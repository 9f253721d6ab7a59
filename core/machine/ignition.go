package machine

import (
	"math"

	"zanjero/core/units"
)

// needleGap is the spark gap between needle points in air against peak
// voltage: a handbook table, given here from memory.
var needleGap = []struct{ kv, mm float64 }{{0, 0}, {5, 4.2}, {10, 8.5}, {15, 13.0}, {20, 17.5}, {25, 22.0}, {30, 26.9}}

// NeedleGapMM gives the gap in mm between needle points that a peak voltage in
// kV will jump at sea level. Above 30 kV it goes on with the last slope.
func NeedleGapMM(kv float64) float64 {
	if kv <= 0 {
		return 0
	}
	i := 1
	for i < len(needleGap)-1 && needleGap[i].kv < kv {
		i++
	}
	a, b := needleGap[i-1], needleGap[i]
	return a.mm + (kv-a.kv)*(b.mm-a.mm)/(b.kv-a.kv)
}

// PaschenKV gives the breakdown voltage of air in a uniform field in kV, from
// pressure times gap in Torr·cm: V = B·pd/(ln(A·pd) − ln ln(1 + 1/γ)) with
// A = 15 /(Torr·cm), B = 365 V/(Torr·cm), γ = 0.01. Source: Paschen 1889, the
// constants as in textbooks on gas discharges (from memory). Below the curve's
// minimum it is held at the minimum, since a real gap then finds a longer path.
func PaschenKV(pd float64) float64 {
	pd = max(pd, paschenLeast)
	return paschenB * pd / (math.Log(paschenA*pd) - paschenLnLn)
}

const paschenA, paschenB, paschenLnLn = 15.0, 0.365, 1.53

// paschenLeast is where the curve has its minimum, Torr·cm.
var paschenLeast = math.E * math.Exp(paschenLnLn) / paschenA

// coilKV is what the coil can give at a crank speed, in kV; 0 when it is
// earthed or its secondary is open.
func (m *Machine) coilKV(rpm float64) float64 {
	p, c := &m.p, &m.s.Controls
	if (p.secondaryOpen && p.arcs == 0) || m.coilOpen() || (m.killed() && !c.KillLeadOff) {
		return 0
	}
	hot := math.Sqrt(units.CopperResistance(1, m.s.CoilC))
	iron := p.magnet
	if p.swarf {
		iron *= 0.05 // filings across the poles short the field
	}
	e := iron * 0.9 / (p.airGap + 0.6) * (rpm / p.magnetRPM) / hot
	ee := (e - 0.36) / 0.64
	if ee <= 0 {
		return 0
	}
	kv := min(33*ee/(1+ee)*p.coilScale*(1-m.s.CoilStrain), p.leadFlash)
	if p.secondaryOpen {
		kv = min(kv, p.arcs)
	}
	return kv
}

// coilCloses is how far a coil that let go hot has to cool before it closes, K
// (common practice: it takes its time; chosen by us).
const coilCloses = 10

// coilOpen says that the winding stands open for its heat.
func (m *Machine) coilOpen() bool { return m.s.CoilOpen || m.s.CoilC > m.p.coilOpenC }

// killed says that the kill circuit is closed to earth: by the switch, the
// released bar, a chafed wire, or the low-oil sensor.
func (m *Machine) killed() bool {
	p, c := &m.p, &m.s.Controls
	return c.Stop || (p.bar && !m.barHeld()) || m.s.Earthed ||
		(!c.OilLeadOff && (p.sensorFailed || (p.oilSwitch && m.s.OilLevel < cutOutLevel)))
}

// A chafed wire touches always from this severity on; below it, now and then,
// the oftener the worse (common practice; sizes chosen by us).
const alwaysEarthed = 0.7

// touchesFrom is the deviate of a shake from which the wire touches.
func (m *Machine) touchesFrom() float64 {
	switch e := m.p.earthed; {
	case e <= 0:
		return math.Inf(1)
	case e >= alwaysEarthed:
		return math.Inf(-1)
	default:
		return 1.2 - 3*e
	}
}

// TouchChance is how likely a chafed wire touches at an act.
func (m *Machine) TouchChance() float64 { return 0.5 * math.Erfc(m.touchesFrom()/math.Sqrt2) }

// Jolt lets a chafed wire touch or hang clear, as the shake of an act decides.
func (m *Machine) Jolt(d Draws) { m.s.Earthed = d.Shake > m.touchesFrom() }

// Touch holds a chafed wire to the metal, or clear of it.
func (m *Machine) Touch(touches bool) { m.s.Earthed = touches }

// cutOutLevel is the oil level, 1 at the mark, below which the low-oil switch
// stops the engine.
const cutOutLevel = 0.55

// plugKV is the share of the coil's voltage that stands at the plug: the wet
// insulator is a shunt against the source's 0.5 MΩ.
func (m *Machine) plugKV(kv, film float64) float64 {
	kv -= m.p.seriesKV
	shunt := 1/m.p.plugShunt + clamp((film-9)/6, 0, 1)/0.5
	return max(kv, 0) / (1 + 0.5*shunt)
}

// fire is the chance, 0 to 1, that a spark of kv jumps the plug's gap in a gas
// of a pressure (kPa) and temperature (K) at λ. The 0.8 is the field at sharp
// electrodes; lean gas needs more.
func (m *Machine) fire(kv, pressure, kelvin, lambda float64) float64 {
	if kv <= 0 {
		return 0
	}
	kv = min(kv, m.p.plugFlash) // a crack breaks down before the gap does
	pd := pressure * 7.5006 * (293 / kelvin) * m.p.plugGap / 10
	need := 0.8 * PaschenKV(pd) * (1 + 0.3*max(0, min(lambda, 3)-1))
	quench := clamp((m.p.plugGap-0.1)/0.2, 0, 1) // a closed gap puts its own flame out
	return clamp((kv/need-0.85)/0.3, 0, 1) * quench
}

// SparkReachMM gives the longest gap in mm that an adjustable tester will
// jump on a pull at a crank speed, with lossKV lost in a bad earth.
func (m *Machine) SparkReachMM(rpm, lossKV float64) float64 {
	return NeedleGapMM(m.coilKV(rpm) - m.p.seriesKV - lossKV)
}

// CoilResistances gives primary and secondary in Ω at the coil's present
// temperature. open says that the secondary is broken. With the kill lead on
// and the switch in STOP the primary is bridged to earth.
func (m *Machine) CoilResistances() (primary, secondary float64, open bool) {
	primary = units.CopperResistance(m.p.primary, m.s.CoilC)
	if m.killed() && !m.s.Controls.KillLeadOff {
		primary = 0.02
	}
	return primary, units.CopperResistance(m.p.secondary, m.s.CoilC), m.p.secondaryOpen || m.coilOpen()
}

// KillOhm is the resistance from the kill lead to earth, as switch and bar stand,
// or with the switch put to STOP or the bar let go: +Inf when open.
func (m *Machine) KillOhm(stop bool) float64 {
	if stop || m.killed() {
		return 0.3
	}
	return math.Inf(1)
}
