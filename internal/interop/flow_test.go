package interop

import (
	"context"
	"encoding/csv"
	"encoding/xml"
	"io"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/machine"
	"zanjero/core/procedure"
	"zanjero/messages"
)

// What a procedure comes to, as tables and drawings that others read: rows of the ditch
// add up, no way past steps crosses another's, and the drawings are whole.
func TestWhatItComesToInOpenForms(t *testing.T) {
	p := school(t, "dose-first-no-start")
	fam := catalogue.Standard().Family("f4-bowl")
	pop, err := procedure.NewPopulation(context.Background(), diagnosis.Job{Family: fam.ID, Sheet: fam.Sheet, Ambient: machine.Ambient{TemperatureC: 20}},
		diagnosis.ComplaintBy("no-start").Claim)
	require.NoError(t, err)
	e, err := pop.Evaluate(context.Background(), p)
	require.NoError(t, err)
	pr := Printer{Words: messages.In(messages.English)}
	rows, err := csv.NewReader(strings.NewReader(pr.DitchCSV(p, e))).ReadAll()
	require.NoError(t, err)
	require.Len(t, rows, len(e.Steps)+2)
	for _, r := range rows[1:] {
		sum := 0.0
		for i, cell := range r[1:7] {
			v, err := strconv.ParseFloat(cell, 64)
			require.NoError(t, err)
			if i > 0 {
				v = -v
			}
			sum += v
		}
		for past := range strings.SplitSeq(r[7], "; ") {
			if n, _, ok := strings.Cut(past, " "); ok {
				v, err := strconv.ParseFloat(n, 64)
				require.NoError(t, err)
				sum -= v
			}
		}
		assert.InDelta(t, 0, sum, 0.05, r)
	}
	all := jumps(e.Flow())
	require.NotEmpty(t, all)
	for i, a := range all {
		for _, b := range all[:i] {
			apart := a.lane >= b.lane+allWide*b.share || b.lane >= a.lane+allWide*a.share
			assert.True(t, apart || a.from >= b.to || b.from >= a.to, "%v crosses %v", a, b)
		}
	}
	rows, err = csv.NewReader(strings.NewReader(pr.HeatCSV(p, e))).ReadAll()
	require.NoError(t, err)
	assert.Greater(t, len(rows), 60)
	p.Title = `<b> & "c"`
	for _, drawing := range []string{pr.DitchSVG(p, e), pr.HeatSVG(p, e)} {
		d := xml.NewDecoder(strings.NewReader(drawing))
		for {
			if _, err := d.Token(); err == io.EOF {
				break
			} else {
				require.NoError(t, err)
			}
		}
	}
}
