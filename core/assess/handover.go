package assess

import (
	"fmt"
	"slices"
	"strings"

	"zanjero/core/catalogue"
	"zanjero/core/problem"
)

// Check lists what is wrong with a hand-over of an attempt on a family whose
// ledger holds some events, with where and how to mend it.
func (h *HandOver) Check(family string, events int) []problem.Problem {
	cat := catalogue.Standard()
	var out []problem.Problem
	add := func(path, what, mend string) {
		out = append(out, problem.Problem{Path: path, Problem: what, Mend: mend})
	}
	if !slices.Contains([]string{Repaired, NotWorth, ReferOn}, h.Verdict) {
		add("verdict", "it is not said what becomes of the machine", "choose repaired, not worth it, or refer on")
	}
	if !slices.ContainsFunc(h.Findings, func(f Finding) bool { return f.Filing == Root }) {
		add("findings", "no root cause is named", "name the part that is at fault and file it as the root cause")
	}
	if len(h.Findings) > 20 {
		add("findings", "there are more than twenty findings", "keep those that matter to this job")
	}
	for i, f := range h.Findings {
		path := fmt.Sprintf("findings[%d]", i)
		if !slices.ContainsFunc(cat.ReachesOf(family), func(r catalogue.Reach) bool { return r.ID == f.Reach }) {
			add(path+".reach", fmt.Sprintf("this machine has no reach %q", f.Reach), "choose a reach of the board")
		}
		if def := cat.Fault(f.Fault); f.Fault != "" && (def == nil || def.Reach != f.Reach) {
			add(path+".fault", fmt.Sprintf("%q is no fault of that reach", f.Fault), "choose one from its list, or leave it open")
		}
		if !slices.Contains([]string{Root, Contributing, Incidental, NotAFault}, f.Filing) {
			add(path+".filing", fmt.Sprintf("%q is no way to file a finding", f.Filing), "file it as root, contributing, incidental or not-a-fault")
		}
		for _, seq := range f.Evidence {
			if seq < 0 || seq >= events {
				add(path+".evidence", fmt.Sprintf("the ledger has no entry %d", seq), "pick entries from the ledger")
				break
			}
		}
	}
	if h.Cause != "" && !knowsCause(cat, family, h.Cause) {
		add("cause", fmt.Sprintf("there is no cause %q", h.Cause), "choose one from the list, or leave it open")
	}
	if h.Advice != "" && cat.AdviceText(h.Advice) == nil {
		add("advice", fmt.Sprintf("there is no advice %q", h.Advice), "choose one from the list, or leave it open")
	}
	if h.ProofSeq < -1 || h.ProofSeq >= events {
		add("proof_seq", "that entry is not in the ledger", "pick the proof run from the ledger")
	}
	if len(strings.TrimSpace(h.Note)) > 2000 {
		add("note", "the note is too long", "keep it to 2000 characters")
	}
	return out
}
