package machine

// PlugSeen is a plug as an eye takes it in, within what it is called: how far it goes in
// steps that an eye tells apart.
type PlugSeen struct {
	// Tone of the nose from −1, black with soot, over 0, tan, to 1, burnt white.
	Tone float64
	// Wet is the fuel on it, Oil the oil, 0 to 1.
	Wet, Oil float64
	// Cracked insulator, and the gap to a tenth of a millimetre.
	Cracked bool
	GapMM   float64
}

// soaked is the film, in charges, of a plug that drips.
const soaked = 15

// PlugSeen gives what an eye meets of the plug, which is called by a word of PlugFace.
func (m *Machine) PlugSeen(word string) PlugSeen {
	p := PlugSeen{Tone: notch(clamp(m.s.PlugTone, -0.25, 0.25), 0.25), GapMM: notch(m.p.plugGap, 0.1)}
	wet := m.s.Wet() / soaked
	switch word {
	case "dry": // as it came from the box
		p.Tone = 0.4
	case "sooty":
		fouled := 0.5 + 0.5*clamp(1-m.p.plugShunt/2, 0, 1) // by how much the soot leads away
		p.Tone = notch(clamp(min(m.s.PlugTone, -fouled), -1, -0.5), 0.25)
	case "white":
		p.Tone = notch(clamp(m.s.PlugTone, 0.5, 1), 0.25)
	case "damp":
		p.Wet = notch(clamp(wet, 0.2, 0.4), 0.1)
	case "wet":
		p.Wet = notch(clamp(wet, 0.5, 1), 0.1)
	case "oily":
		p.Oil = notch(clamp(m.p.oilBurn, 0.4, 1), 0.2)
	case "cracked":
		p.Cracked = true
	}
	return p
}
