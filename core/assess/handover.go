package assess

import (
	"fmt"
	"slices"
	"strings"

	"zanjero/core/catalogue"
	"zanjero/core/problem"
)

// NamesRoot says that something is given as the root cause.
func (h *HandOver) NamesRoot() bool {
	return slices.ContainsFunc(h.Findings, func(f Finding) bool { return f.Filing == Root })
}

// Check lists what is wrong with a hand-over of an attempt on a family whose
// ledger holds some events, with where and how to mend it.
func (h *HandOver) Check(family string, events int) []problem.Problem {
	cat := catalogue.Standard()
	var out []problem.Problem
	add := func(path, code string, pairs ...any) {
		out = append(out, *problem.New(path, code, pairs...))
	}
	if !slices.Contains([]string{Repaired, NotWorth, ReferOn}, h.Verdict) {
		add("verdict", "assess.not-said-what-becomes-machine")
	}
	if len(h.Findings) > 20 {
		add("findings", "assess.more-than-twenty-findings")
	}
	for i, f := range h.Findings {
		path := fmt.Sprintf("findings[%d]", i)
		if !slices.ContainsFunc(cat.ReachesOf(family), func(r catalogue.Reach) bool { return r.ID == f.Reach }) {
			add(path+".reach", "assess.machine-no-reach", "reach", f.Reach)
		}
		if def := cat.Fault(f.Fault); f.Fault != "" && (def == nil || def.Reach != f.Reach) {
			add(path+".fault", "assess.no-fault-reach", "fault", f.Fault)
		}
		if !slices.Contains([]string{Root, Contributing, Incidental, NotAFault}, f.Filing) {
			add(path+".filing", "assess.no-way-file-finding", "filing", f.Filing)
		}
		for _, seq := range f.Evidence {
			if seq < 0 || seq >= events {
				add(path+".evidence", "assess.ledger-no-entry", "seq", seq)
				break
			}
		}
	}
	if h.Cause != "" && !knowsCause(cat, family, h.Cause) {
		add("cause", "assess.no-cause", "cause", h.Cause)
	}
	if h.Advice != "" && cat.AdviceText(h.Advice) == nil {
		add("advice", "assess.no-advice", "advice", h.Advice)
	}
	if h.ProofSeq < -1 || h.ProofSeq >= events {
		add("proof_seq", "assess.entry-not-ledger")
	}
	if len(strings.TrimSpace(h.Note)) > 2000 {
		add("note", "assess.note-too-long")
	}
	return out
}
