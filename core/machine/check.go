package machine

import (
	"fmt"
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/problem"
)

// CheckAmbient refuses a day that no small engine is mended on.
func CheckAmbient(path string, a Ambient) *problem.Problem {
	if !(a.TemperatureC >= -40 && a.TemperatureC <= 55) {
		return problem.New(path+".temperature_c", "machine.temperature-out-of-range", "value", a.TemperatureC)
	}
	if !(a.AltitudeM >= -430 && a.AltitudeM <= 5000) {
		return problem.New(path+".altitude_m", "machine.altitude-out-of-range", "value", a.AltitudeM)
	}
	return nil
}

// CheckFault refuses a fault that no variant of the family can have, or a
// severity, mode or cause that cannot be.
func CheckFault(path string, f FaultSpec, fam *catalogue.Family) *problem.Problem {
	known := catalogue.Standard().FaultsOf(fam.ID, nil)
	if !slices.ContainsFunc(known, func(k catalogue.Fault) bool { return k.ID == f.ID }) {
		var ids []string
		for _, k := range known {
			ids = append(ids, k.ID)
		}
		return problem.New(path+".id", "machine.no-fault", "family", fam.ID, "fault", f.ID, "ids", ids)
	}
	if def := catalogue.Standard().Fault(f.ID); f.Mode != "" && !slices.Contains(def.Modes, f.Mode) {
		return problem.New(path+".mode", "machine.no-mode", "fault", f.ID, "mode", f.Mode, "modes", def.Modes)
	}
	if def := catalogue.Standard().Fault(f.ID); f.Cause != "" && !slices.Contains(def.Causes, f.Cause) {
		return problem.New(path+".cause", "machine.does-not-come", "fault", f.ID, "cause", f.Cause, "causes", def.Causes)
	}
	if !(f.Severity >= 0 && f.Severity <= 1) {
		return problem.New(path+".severity", "machine.severity-out-of-range", "severity", f.Severity)
	}
	return nil
}

// apart are faults that cannot be in one machine at once.
var apart = [][2]string{
	{"choke-stuck-open", "choke-stuck-shut"}, {"screw-lean", "screw-rich"}, {"valve-clearance-tight", "valve-clearance-wide"},
	{"oil-low", "oil-overfilled"}, {"oil-low-cutout", "oil-overfilled"}, {"seized", "rod-broken"}, {"premix-no-oil", "premix-oil-rich"},
	{"tank-empty", "fuel-stale"}, {"tank-empty", "fuel-water"}, {"key-sheared", "flywheel-misindexed"}, {"suction-diaphragm", "auto-choke-misassembled"},
}

// CheckTogether refuses faults that contradict each other.
func CheckTogether(path string, faults []FaultSpec) *problem.Problem {
	at := func(id string) int {
		return slices.IndexFunc(faults, func(f FaultSpec) bool { return f.ID == id })
	}
	for _, pair := range apart {
		if i, j := at(pair[0]), at(pair[1]); i >= 0 && j >= 0 {
			return problem.New(fmt.Sprintf("%s[%d].id", path, max(i, j)), "machine.cannot-both-be", "one", pair[0], "other", pair[1])
		}
	}
	return nil
}
