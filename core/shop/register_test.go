package shop

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/ledger"
)

func TestTheRegisterKnowsItsGauges(t *testing.T) {
	sg := &Instrument{Code: "SG-12", Name: "Compression gauge", CheckedOn: "2026-01-10", DueOn: "2027-01-10",
		Reads: map[string]float64{"compression-dry": 3}}
	require.Empty(t, sg.Check())
	sound, late := &ledger.Gauge{ID: "SG-12", High: 3}, &ledger.Gauge{ID: "SG-12", High: 3, Overdue: true}
	r := Register{"SG-12": sg}
	for name, c := range map[string]struct {
		named        *ledger.Gauge
		device, test string
		on           string
		is           *ledger.Gauge
		code         string
	}{
		"named, whatever was claimed of it": {&ledger.Gauge{ID: "SG-12", High: -40, Overdue: true}, "", "compression-dry", "2026-11-27", sound, ""},
		"overdue from its day on":           {&ledger.Gauge{ID: "SG-12"}, "", "compression-dry", "2027-01-10", late, ""},
		"by what the device calls itself":   {nil, "SG-12", "compression-dry", "2026-11-27", sound, ""},
		"a device that it does not know":    {nil, "SG-13", "compression-dry", "2026-11-27", nil, ""},
		"nothing":                           {nil, "", "compression-dry", "2026-11-27", nil, ""},
		"not for this":                      {&ledger.Gauge{ID: "SG-12"}, "", "spark-gap", "2026-11-27", nil, "shop.instrument-not-for"},
		"not there":                         {&ledger.Gauge{ID: "SG-14"}, "", "compression-dry", "2026-11-27", nil, "shop.no-instrument"},
	} {
		g, p := r.Gauge(c.named, c.device, c.test, c.on)
		assert.Equal(t, c.is, g, name)
		if c.code == "" {
			assert.Nil(t, p, name)
		} else if assert.NotNil(t, p, name) {
			assert.Equal(t, c.code, p.Code, name)
		}
	}
	sg.Gone = true
	_, p := r.Gauge(&ledger.Gauge{ID: "SG-12"}, "", "compression-dry", "2026-11-27")
	assert.NotNil(t, p, "what is no longer in use reads nothing")

	bad := Instrument{Code: "two words", CheckedOn: "2026-02-01", DueOn: "2026-02-01", Reads: map[string]float64{"moon": 1, "compression-dry": 9e9}}
	var codes []string
	for _, p := range bad.Check() {
		codes = append(codes, p.Path+" "+p.Code)
	}
	assert.Equal(t, []string{"code shop.instrument-code", "name shop.instrument-name", "due_on shop.due-before-checked",
		"reads.compression-dry ledger.gauge-error-cannot-be", "reads shop.device-reads-numbers"}, codes)
}
