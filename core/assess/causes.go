package assess

import (
	"fmt"
	"slices"
	"strings"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
)

// cause marks how far up the chain of causes the conclusion reaches: the share
// of the links between a hidden fault and the fact behind it that are named,
// one as the cause and faults on the way as findings. With several hidden
// faults the best followed one counts.
func (a *attempt) cause(s *Section) float64 {
	best, of, text := 0, 1, ""
	plausible := false
	for _, truth := range a.sc.Faults {
		for _, chain := range a.chains(truth) {
			n := a.linksNamed(chain)
			if text == "" || n*of > best*len(chain) {
				best, of, text = n, len(chain), a.tellChain(truth, chain)
			}
		}
		plausible = plausible || slices.Contains(a.cat.Fault(truth.ID).Causes, a.hand.Cause)
	}
	switch {
	case best == of:
		s.Reasons = append(s.Reasons, Reason{"How it came about is right: " + text + ".", -1, true})
	case best > 0:
		s.Reasons = append(s.Reasons, Reason{fmt.Sprintf("How it came about is right as far as it goes, %d of %d links: %s.", best, of, text), -1, false})
	case a.hand.Cause == "":
		s.Reasons = append(s.Reasons, Reason{"How it came about was left open. Ask what led to the fault, or the repair will not last.", -1, false})
	case plausible:
		s.Reasons = append(s.Reasons, Reason{fmt.Sprintf("%q can lead to this fault; here it was: %s.", a.causeName(a.hand.Cause), text), -1, false})
		return causeMarks / 4
	default:
		s.Reasons = append(s.Reasons, Reason{fmt.Sprintf("%q does not lead to this fault.", a.causeName(a.hand.Cause)), -1, false})
	}
	return causeMarks * float64(best) / float64(of)
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

func (a *attempt) tellChain(truth machine.FaultSpec, chain []string) string {
	text := strings.ToLower(a.cat.Fault(truth.ID).Name)
	for _, id := range chain {
		text += ", from " + strings.ToLower(a.causeName(id))
	}
	return text
}

// behind says that a fault leads to a hidden one by the job's own account, so
// that naming it accuses nothing that is sound.
func (a *attempt) behind(fault string) bool {
	return fault != "" && slices.ContainsFunc(a.sc.Faults, func(t machine.FaultSpec) bool { return t.Cause == fault })
}

func (a *attempt) causeName(id string) string {
	if f := a.cat.Fault(id); f != nil {
		return f.Name
	}
	return a.cat.Cause(id).Name
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
