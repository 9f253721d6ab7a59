package shop

import (
	"regexp"
	"strings"

	"zanjero/core/ledger"
	"zanjero/core/problem"
)

// DeviceReading is what a gauge, meter or tachometer sends: one line of text,
//
//	reading test=compression-dry value=51.2 unit=psi at=2026-11-27T14:03:00Z device=SG-12
//
// with its members in any order, each once, parted by spaces. A value is a number with a
// point, or OL for over the limit; at is a moment of RFC 3339. The page reads the same lines.
type DeviceReading struct {
	Test    string `json:"test"`
	Reading string `json:"reading"`
	Unit    string `json:"unit"`
	At      string `json:"at"`
	Device  string `json:"device"`
}

// deviceForm is what each member of a line may be.
var deviceForm = map[string]*regexp.Regexp{
	"test":   regexp.MustCompile(`^[a-z0-9-]{1,40}$`),
	"value":  regexp.MustCompile(`^(-?[0-9]+(\.[0-9]+)?|OL)$`),
	"unit":   regexp.MustCompile(`^\S{1,20}$`),
	"at":     regexp.MustCompile(`^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d+)?(Z|[+-]\d\d:\d\d)$`),
	"device": regexp.MustCompile(`^[\w.:-]{1,40}$`),
}

// maxDeviceLine is the most bytes of a line.
const maxDeviceLine = 300

// ReadDevice reads a line of a device, and refuses one that is not of the form.
func ReadDevice(line string) (DeviceReading, *problem.Problem) {
	var r DeviceReading
	words := strings.Fields(line)
	if len(line) > maxDeviceLine || len(words) == 0 || words[0] != "reading" {
		return r, problem.New("", "shop.device-line")
	}
	by := map[string]string{}
	for _, w := range words[1:] {
		name, v, _ := strings.Cut(w, "=")
		form, known := deviceForm[name]
		if _, twice := by[name]; !known || twice || !form.MatchString(v) {
			return r, problem.New(problem.Show(name), "shop.device-member", "member", problem.Show(w))
		}
		by[name] = v
	}
	for name := range deviceForm {
		if by[name] == "" {
			return r, problem.New("", "shop.device-line")
		}
	}
	return DeviceReading{by["test"], by["value"], by["unit"], by["at"], by["device"]}, nil
}

// String is its line.
func (r DeviceReading) String() string {
	return strings.Join([]string{"reading", "test=" + r.Test, "value=" + r.Reading, "unit=" + r.Unit, "at=" + r.At, "device=" + r.Device}, " ")
}

// Event is what a device has read, as it stands in a ledger but for what was ticked and
// judged.
func (r DeviceReading) Event() ledger.Event {
	return ledger.Event{Kind: ledger.EventHand, Test: r.Test, Reading: r.Reading, Unit: r.Unit, Device: r.Device}
}
