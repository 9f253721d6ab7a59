package assess

import (
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
)

// cause gives, of at most so many marks, for how far up the chain of causes the
// conclusion reaches: the share of the links between a hidden fault and the fact
// behind it that are named, one as the cause and faults on the way as findings.
// With several hidden faults the best followed one counts.
// share is how much of the chain that is.
func (a *attempt) cause(s *Section, of float64) (marks, share float64) {
	best, links := 0, 1
	var chain []string
	plausible := false
	for _, truth := range a.sc.Faults {
		for _, c := range a.chains(truth) {
			n := a.linksNamed(c)
			if chain == nil || n*links > best*len(c) {
				best, links, chain = n, len(c), append([]string{truth.ID}, c...)
			}
		}
		plausible = plausible || slices.Contains(a.cat.Fault(truth.ID).Causes, a.hand.Cause)
	}
	give := func(share float64, code string, pairs ...any) (float64, float64) {
		s.give(share*of, of, share >= 0.999, -1, code, append(pairs, "chain", chain)...)
		return share * of, share
	}
	switch {
	case best == links:
		return give(1, "cause.right")
	case best > 0:
		return give(float64(best)/float64(links), "cause.part", "named", best, "links", links)
	case a.hand.Cause == "":
		return give(0, "cause.open")
	case plausible:
		return give(0.25, "cause.plausible", "cause", a.hand.Cause)
	}
	return give(0, "cause.wrong", "cause", a.hand.Cause)
}

// chains lists the ways in which a hidden fault can have come about, each from
// the fault's own cause to the fact at its end. Where the job says what led to
// the fault, only those through it.
func (a *attempt) chains(truth machine.FaultSpec) (out [][]string) {
	var follow func(causes, so []string)
	follow = func(causes, so []string) {
		for _, id := range causes {
			if slices.Contains(so, id) {
				continue
			}
			chain := append(slices.Clone(so), id)
			if def := a.cat.Fault(id); def != nil {
				follow(def.Causes, chain)
			} else {
				out = append(out, chain)
			}
		}
	}
	causes := a.cat.Fault(truth.ID).Causes
	if truth.Cause != "" {
		causes = []string{truth.Cause}
	}
	follow(causes, nil)
	return out
}

// linksNamed counts the links of a chain that the hand-over names.
func (a *attempt) linksNamed(chain []string) (n int) {
	for _, id := range chain {
		if id == a.hand.Cause || slices.ContainsFunc(a.named(), func(f Finding) bool { return f.Fault == id }) {
			n++
		}
	}
	return n
}

// behind says that a fault leads to a hidden one by the job's own account, so
// that naming it accuses nothing that is sound.
func (a *attempt) behind(fault string) bool {
	return fault != "" && slices.ContainsFunc(a.sc.Faults, func(t machine.FaultSpec) bool { return t.Cause == fault })
}

// knowsCause says that an id is a fact of a machine's history, or a fault of
// the family that can lead to another of its faults.
func knowsCause(cat *catalogue.Catalogue, family, id string) bool {
	if cat.Cause(id) != nil {
		return true
	}
	faults := cat.FaultsOf(family, nil)
	has := func(f catalogue.Fault) bool { return f.ID == id }
	leads := func(f catalogue.Fault) bool { return slices.Contains(f.Causes, id) }
	return slices.ContainsFunc(faults, has) && slices.ContainsFunc(faults, leads)
}
