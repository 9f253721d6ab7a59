package scenario

import (
	"zanjero/core/catalogue"
	"zanjero/core/machine"
)

// First is the lesson that somebody new takes on a machine before any job of their
// own: an engine that does not fire, for its plug's gap has closed. One test with one
// instrument finds it, and work of three minutes mends it. words and history are
// what the card says.
func First(name, code, family string, sheet catalogue.Sheet, words, history string) *Scenario {
	return &Scenario{Name: name, Code: code, Family: family, Sheet: sheet, Ambient: machine.Ambient{TemperatureC: 20},
		Faults: []machine.FaultSpec{{ID: "plug-gap-wrong", Mode: "closed", Severity: 1, Cause: "handling"}},
		Words:  words, History: history, Claim: "no-start", LimitMinutes: 30, LimitMoney: 20, Mode: ModeGuided, First: true}
}
