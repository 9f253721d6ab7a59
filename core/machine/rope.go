package machine

import "math"

// What becomes of a rope that is drawn.
const (
	RopeBack    = "back"    // it is drawn in again
	RopeStuck   = "stuck"   // it goes no further
	RopeSnatch  = "snatch"  // it is torn back at its first compression
	RopeStays   = "stays"   // it stays out
	RopeMissing = "missing" // there is none to draw
)

// ropePlaces is at how many places a rope is felt for each compression.
const ropePlaces = 24

// Rope is what a hand feels as it draws the rope, and no more: the same for every machine
// that feels the same.
type Rope struct {
	// Holds is how hard it holds, 0 to 1 in tenths, from its beginning to its end.
	Holds []float64
	End   string
}

// How hard a rope holds that turns nothing but the crank, one that drags, and one that does
// not move; and by how much the full compression of a sound machine adds to it (common
// practice that they differ so; sizes chosen by us).
const (
	holdsFree, holdsDragging, holdsFast = 0.1, 0.5, 1.0
	holdsPressed                        = 0.8
)

// Rope gives what is felt of the rope of a machine whose pull is called by a word of Feel.
// Turn by turn it follows the compression that the machine has, to a tenth and within what
// the word says.
func (m *Machine) Rope(word string) Rope {
	r := Rope{Holds: make([]float64, ropePlaces*m.p.strokesPerPull), End: RopeBack}
	base, kept := holdsFree, 0.0
	f, _ := m.kept(m.p.crank)
	f *= 1 - 0.85*m.p.inletShut
	switch word {
	case "locked":
		base, r.End = holdsFast, RopeStuck
	case "rope-gone":
		base, r.End = 0, RopeMissing
	case "stays-out":
		kept, r.End = clamp(f, feltStrong, 1), RopeStays
	case "drags":
		base, kept = holdsDragging, 0.3
	case "snatches":
		kept, r.End = 1, RopeSnatch
	case "soft":
		kept = clamp(f, feltSoft, feltStrong-0.1)
	case "strong":
		kept = clamp(f, feltStrong, 1)
	}
	for i := range r.Holds {
		// How far it is through each compression; the piston is at the top at its end.
		phase := float64(i%ropePlaces) / ropePlaces
		r.Holds[i] = notch(min(base+holdsPressed*kept*m.pressed(phase), 1), 0.1)
	}
	return r
}

// pressed is how hard the charge resists through a compression, 0 to 1: the torque of a
// pressure that goes with the volume to the polytropic exponent on a crank whose rod is long
// (textbook), over the last half of a turn before the top.
func (m *Machine) pressed(phase float64) float64 {
	at := func(x float64) float64 {
		if x <= 0.5 {
			return 0
		}
		angle := 2 * math.Pi * (x - 0.5) // from the bottom, π at the top
		volume := 1 + (m.p.ratio-1)*(1+math.Cos(angle))/2
		return (math.Pow(m.p.ratio/volume, m.p.polytropic) - 1) * math.Sin(angle)
	}
	most := 0.0
	for x := 0.5; x < 1; x += 0.01 {
		most = max(most, at(x))
	}
	return at(phase) / most
}
