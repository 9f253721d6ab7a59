package procedure

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/machine"
)

func TestTry(t *testing.T) {
	for _, fam := range catalogue.Standard().Families {
		start := time.Now()
		pop, err := NewPopulation(diagnosis.Job{Family: fam.ID, Sheet: fam.Sheet, Ambient: machine.Ambient{TemperatureC: 20}}, diagnosis.Claim{Test: "start-attempt", Words: []string{"no-fire", "fires-and-dies"}})
		require.NoError(t, err)
		fmt.Println(fam.ID, pop.Size(), time.Since(start))
		for _, p := range Schools().Expand() {
			start = time.Now()
			e := pop.Evaluate(&p)
			if fam.ID == "f4-bowl" {
				for _, f := range e.Findings {
					fmt.Println("  >", f.Path, f.Problem.Problem)
				}
				for _, h := range e.Hypotheses {
					if h.Prior*(h.Levels[Wrong]+h.Levels[Referred]) > 0.004 {
						fmt.Printf("     %s %s %.3f wrong %.2f ref %.2f %s %v\n", h.Fault, h.Mode, h.Prior, h.Levels[Wrong], h.Levels[Referred], h.Ends[0].Step, h.Ends[0].Faults)
					}
				}
			}
			fmt.Printf("%s %v %.1f min, worst %.0f, lost %.3f, group %.1f/%d %v\n", p.ID, time.Since(start).Round(time.Millisecond), e.Totals.ExpectedMinutes, e.Totals.WorstMinutes, e.Totals.Lost, e.Totals.MeanGroup, e.Totals.LargestGroup, e.Totals.Levels)
		}
	}
}
