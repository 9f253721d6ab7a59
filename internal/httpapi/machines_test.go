package httpapi_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/internal/httpapi"
	"zanjero/messages"
)

// entries are a machine's sheet as its form would send it.
func entries(lines []httpapi.SheetLine) []map[string]any {
	var out []map[string]any
	for _, l := range lines {
		e := map[string]any{"id": l.Id, "source": l.Figure.Source}
		if l.Figure.Word != "" {
			e["word"] = l.Figure.Word
		} else {
			e["low"], e["high"], e["unit"] = fmt.Sprint(l.Figure.Low), fmt.Sprint(l.Figure.High), l.Figure.Unit
		}
		out = append(out, e)
	}
	return out
}

func setFigure(es []map[string]any, id string, to map[string]any) []map[string]any {
	var out []map[string]any
	for _, e := range es {
		if e["id"] == id {
			n := map[string]any{"id": id, "source": "the plate"}
			for k, v := range to {
				n[k] = v
			}
			e = n
		}
		out = append(out, e)
	}
	return out
}

// A new machine is made of its family by changing figures, in the units they
// are printed in; the model's healthy readings stand beside them, and a figure
// that the model does not share is flagged, not refused.
func TestMachineFromAFamily(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst := s.as("inst")
	_, raw := inst.get("/api/sheets/f4-suction")
	form := decode[httpapi.SheetForm](t, raw)
	sheet := setFigure(entries(form.Own), "plug_gap_mm", map[string]any{"low": "0,026", "high": "0.030", "unit": "in"})
	sheet = setFigure(sheet, "head_torque_nm", map[string]any{"low": "10 1/2", "high": "13", "unit": "lbf·ft"})
	sheet = setFigure(sheet, "compression_psi", map[string]any{"low": "9", "high": "10", "unit": "bar"})
	sheet = setFigure(sheet, "ignition", map[string]any{"word": "points"})
	code, raw := inst.call("POST", "/api/machines", map[string]any{"name": "Sluice hoist", "code": "SH-1", "family": "f4-suction",
		"duty": "Lifts the sluice", "sheet": sheet})
	require.Equal(t, 201, code, string(raw))
	m := decode[httpapi.Machine](t, raw)
	at := map[string]httpapi.SheetLine{}
	for _, l := range m.Sheet {
		at[l.Id] = l
	}
	assert.InDelta(t, 0.6604, at["plug_gap_mm"].Figure.Low, 1e-9, "1 in = 25.4 mm (NIST SP 811)")
	assert.InDelta(t, 14.24, at["head_torque_nm"].Figure.Low, 0.005, "1 lbf·ft = 1.355818 N·m (NIST SP 811)")
	assert.Equal(t, "the plate", at["plug_gap_mm"].Figure.Source)
	assert.NotContains(t, m.Lacks, "points-oxidised")
	agrees := map[string]bool{}
	for _, h := range m.Healthy {
		agrees[h.Figure] = h.Agrees
	}
	assert.False(t, agrees["compression_psi"], "9 to 10 bar is not what this engine makes")
	assert.True(t, agrees["spark_mm"])
	// It can be worked on: a fault that only this variant has is hidden in it.
	code, raw = inst.call("POST", "/api/preview", map[string]any{"machine_id": m.Id,
		"faults": []any{map[string]any{"id": "points-oxidised", "severity": 0.9}}, "words": "w", "claim": "no-start", "limit_minutes": 60, "limit_money": 1})
	require.Equal(t, 200, code, string(raw))
	assert.Empty(t, decode[httpapi.Preview](t, raw).Problems)
}

// A sheet is changed whole or not at all, and nobody overwrites another.
func TestSheetIsChangedWholeOrNotAtAll(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst := s.as("inst")
	_, raw := inst.get("/api/machines")
	m := decode[[]httpapi.Machine](t, raw)[0]
	put := func(revision int, sheet []map[string]any) (int, []byte) {
		return inst.call("PUT", "/api/machines/"+m.Id.String(), map[string]any{"name": m.Name, "code": m.Code, "family": m.Family, "duty": m.Duty,
			"sheet": sheet, "revision": revision})
	}
	own := entries(m.Sheet)
	for want, sheet := range map[string][]map[string]any{
		"plug_gap_mm":       setFigure(own, "plug_gap_mm", map[string]any{"low": "10", "unit": "mm"}),
		"compression_ratio": setFigure(own, "compression_ratio", map[string]any{"low": "1"}),
		"tank_ml":           setFigure(own, "tank_ml", map[string]any{"low": "-5"}),
		"idle_rpm":          setFigure(own, "idle_rpm", map[string]any{"low": "slow"}),
		"spark_mm":          setFigure(own, "spark_mm", map[string]any{"low": "12", "unit": "psi"}),
		"bore_mm":           setFigure(own, "bore_mm", map[string]any{"low": ""}),
		"displacement_ml":   setFigure(own, "displacement_ml", map[string]any{"low": "200"}),
		"ignition":          setFigure(own, "ignition", map[string]any{"word": "glow-plug"}),
		"timing_deg":        own[:14],
		"airgap":            append([]map[string]any{{"id": "airgap", "low": "1", "source": "x"}}, own...),
	} {
		code, raw := put(1, sheet)
		assert.Equal(t, 422, code, want)
		e := decode[httpapi.Error](t, raw)
		paths := map[string]bool{}
		for _, p := range *e.All {
			paths[p.Path] = true
			_, mend := messages.In(messages.English).Problem(p)
			assert.NotEmpty(t, mend)
		}
		assert.True(t, paths[want], "%s: %s", want, raw)
	}
	_, raw = inst.get("/api/machines")
	assert.Equal(t, m, decode[[]httpapi.Machine](t, raw)[0], "nothing is stored half")
	code, raw := put(1, setFigure(own, "oil_ml", map[string]any{"low": "0.6", "unit": "L"}))
	require.Equal(t, 200, code, string(raw))
	assert.Equal(t, 2, decode[httpapi.Machine](t, raw).Revision)
	code, raw = put(1, own)
	assert.Equal(t, 409, code, string(raw))
	assert.Contains(t, string(raw), "somebody else")
	code, raw = inst.call("POST", "/api/machines", map[string]any{"name": "Twin", "code": m.Code, "family": m.Family, "duty": "d", "sheet": own})
	assert.Equal(t, 422, code)
	assert.Contains(t, string(raw), "has the code")
}
