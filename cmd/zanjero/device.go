package main

import (
	"fmt"
	"io"
	"strconv"
	"time"

	"github.com/spf13/cobra"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/shop"
)

// standIn is a device that is not there: it reads a machine of the model with one test, again
// and again.
type standIn struct {
	family, fault, test, device string
	severity                    float64
	seed                        uint64
	count                       int
	every                       time.Duration
}

func deviceCommand() *cobra.Command {
	d := standIn{}
	cmd := &cobra.Command{Use: "device-standin", Short: "Send readings as a gauge or meter would, a line each (to a serial port or a file)",
		Args: cobra.NoArgs, RunE: func(cmd *cobra.Command, _ []string) error { return d.send(cmd.OutOrStdout(), time.Now) }}
	f := cmd.Flags()
	f.StringVar(&d.family, "machine", "f4-bowl", "the family of the engine")
	f.StringVar(&d.fault, "fault", "", "a fault that is in it")
	f.Float64Var(&d.severity, "severity", 1, "how far gone the fault is, 0 to 1")
	f.StringVar(&d.test, "test", "compression-dry", "the test that it reads")
	f.StringVar(&d.device, "device", "standin-1", "what it calls itself")
	f.Uint64Var(&d.seed, "seed", 1, "of the instrument's noise")
	f.IntVar(&d.count, "count", 1, "how many readings")
	f.DurationVar(&d.every, "every", 0, "from one reading to the next, such as 2s")
	return cmd
}

func (d *standIn) send(to io.Writer, now func() time.Time) error {
	fam := catalogue.Standard().Family(d.family)
	if fam == nil {
		return problem.New("machine", "scenario.no-engine-family", "family", problem.Show(d.family))
	}
	var faults []machine.FaultSpec
	if d.fault != "" {
		faults = append(faults, machine.FaultSpec{ID: d.fault, Severity: d.severity})
	}
	s, err := bench.NewSession(fam.ID, fam.Sheet, machine.Ambient{TemperatureC: 20}, faults,
		bench.Options{Technique: bench.Ideal, Noise: true, Seed: d.seed, FuelML: -1})
	if err != nil {
		return err
	}
	t := s.TestOf(d.test)
	if t == nil || t.Kind != catalogue.KindNumber {
		return problem.New("test", "shop.device-reads-numbers", "test", problem.Show(d.test))
	}
	for k := range d.count {
		if k > 0 {
			time.Sleep(d.every)
		}
		o := s.Test(t.ID, nil)
		r := shop.DeviceReading{Test: t.ID, Reading: "OL", Unit: t.Unit, At: now().UTC().Format(time.RFC3339), Device: d.device}
		if o.Value != nil {
			r.Reading = strconv.FormatFloat(*o.Value, 'f', 2, 64)
		}
		if _, bad := shop.ReadDevice(r.String()); bad != nil { // what it calls itself may be no name
			return bad
		}
		if _, err := fmt.Fprintln(to, r); err != nil {
			return err
		}
	}
	return nil
}
