package assess

import (
	"fmt"
	"slices"

	"zanjero/core/diagnosis"
	"zanjero/core/ledger"
	"zanjero/core/machine"
)

// Classes of a conclusion.
const (
	Proven       = "proven"
	Supported    = "supported"
	Guessed      = "guessed"
	Symptom      = "symptom-for-cause"
	Contradicted = "contradicted"
	Misled       = "misled"
	StoppedEarly = "stopped-early"
	Nothing      = "nothing-named"
)

// Shares of the conclusion: the root, how it came about, how it was filed, and
// the board.
const (
	rootShare  = 22.0 / 35
	causeShare = 4.0 / 35
	filedShare = 4.0 / 35
	boardShare = 5.0 / 35
)

// conclusion marks evidence and conclusion, and gives the class and verdict of
// the whole.
func (a *attempt) conclusion() (s Section, class string, verdict []Reason) {
	s = Section{ID: "conclusion", Of: a.rubric.Conclusion, Reasons: []Reason{}}
	recorded := a.final[diagnosis.Recorded]
	named := a.named()
	root := rootShare * s.Of
	each := root / float64(len(a.sc.Faults))
	sum := 0.0
	class = Nothing
	for i, truth := range a.sc.Faults {
		j := a.judge(truth, named, recorded)
		sum += j.share * each
		s.give(j.share*each, each, j.share >= 0.85, -1, "conclusion."+j.code, j.params...)
		verdict = append(verdict, s.Reasons[len(s.Reasons)-1])
		if i == 0 || j.share < 0.5 {
			class = j.class
		}
	}
	for _, f := range a.falselyAccused(named) {
		sum -= 0.2 * root
		s.give(-0.2*root, 0, false, -1, "conclusion.falsely-accused", "reach", f.Reach, "percent", percent(recorded.Reach[f.Reach]))
	}
	s.Mark = round1(max(sum, 0) + a.cause(&s, causeShare*s.Of) + a.filed(&s, filedShare*s.Of) + a.board(&s, boardShare*s.Of))
	return s, class, verdict
}

// named lists what was given as a root cause or as contributing to it.
func (a *attempt) named() []Finding {
	var out []Finding
	for _, f := range a.hand.Findings {
		if f.Filing == Root || f.Filing == Contributing {
			out = append(out, f)
		}
	}
	return out
}

// right says that a finding is a hidden fault: the part, and what is wrong
// with it where that was said.
func (a *attempt) right(f Finding, truth machine.FaultSpec) bool {
	return f.Reach == a.cat.Fault(truth.ID).Reach && (f.Fault == "" || f.Fault == truth.ID)
}

func (a *attempt) falselyAccused(named []Finding) []Finding {
	return slices.DeleteFunc(slices.Clone(named), func(f Finding) bool {
		return slices.ContainsFunc(a.sc.Faults, func(t machine.FaultSpec) bool { return a.right(f, t) }) || a.symptomOf(f) != "" || a.behind(f.Fault)
	})
}

// symptomOf names the hidden fault that causes the fault a finding names, or "".
func (a *attempt) symptomOf(f Finding) string {
	def := a.cat.Fault(f.Fault)
	if def == nil {
		return ""
	}
	for _, t := range a.sc.Faults {
		if slices.Contains(def.Causes, t.ID) {
			return t.ID
		}
	}
	return ""
}

// judged is what a conclusion comes to for one hidden fault: the share of the
// root's marks, the class, and what is to be said with it.
type judged struct {
	share  float64
	class  string
	code   string // of what is said, where it is not the class
	params []any
}

func (a *attempt) judge(truth machine.FaultSpec, named []Finding, r diagnosis.Report) judged {
	p := r.Fault[truth.ID]
	say := func(share float64, class string, pairs ...any) judged {
		return judged{share, class, class, append(pairs, "fault", truth.ID, "p", percent(p))}
	}
	for _, f := range named {
		if !a.right(f, truth) {
			continue
		}
		switch second := a.runnerUp(truth.ID, r); {
		case p >= 0.90:
			return say(0.9+0.1*(p-0.9)/0.1, Proven)
		case p >= 0.50 || p >= 3*second:
			return say(0.65+0.2*clamp01((p-0.5)/0.4), Supported)
		default:
			return say(0.3+0.3*p/0.5, Guessed, "next", percent(second))
		}
	}
	for _, f := range named {
		if a.symptomOf(f) == truth.ID {
			return say(0.5, Symptom, "named_fault", f.Fault)
		}
	}
	// Wrong: what did the record say of what was named instead?
	i := slices.IndexFunc(named, func(f Finding) bool {
		return !slices.ContainsFunc(a.sc.Faults, func(t machine.FaultSpec) bool { return a.right(f, t) })
	})
	if i < 0 {
		j := say(0, StoppedEarly)
		if j.code = "not-named"; len(named) == 0 {
			j.class = Nothing
		}
		return j
	}
	q := r.Reach[named[i].Reach]
	pairs := []any{"reach", named[i].Reach, "percent", percent(q)}
	switch {
	case q < 0.02:
		return say(0, Contradicted, pairs...)
	case q >= 0.50:
		if test := a.misledBy(named[i].Reach); test != "" {
			pairs = append(pairs, "test", test)
		}
		return say(0.35, Misled, pairs...)
	}
	return say(0.15, StoppedEarly, pairs...)
}

// runnerUp is the greatest standing of any other fault.
func (a *attempt) runnerUp(fault string, r diagnosis.Report) (p float64) {
	for id, q := range r.Fault {
		if id != fault && !slices.ContainsFunc(a.sc.Faults, func(t machine.FaultSpec) bool { return t.ID == id }) {
			p = max(p, q)
		}
	}
	return p
}

// misledBy is the test whose reading raised a reach the most, or "".
func (a *attempt) misledBy(reach string) string {
	best, at := 0.05, -1
	last := a.prior.Reach[reach]
	for i, r := range a.recorded {
		if rise := r.Reach[reach] - last; rise > best && a.ledger.Lines()[i].Obs != nil {
			best, at = rise, i
		}
		last = r.Reach[reach]
	}
	if at < 0 {
		return ""
	}
	return a.ledger.Lines()[at].Test
}

// filed gives, of at most so many marks, for the evidence offered and the other
// findings.
func (a *attempt) filed(s *Section, of float64) float64 {
	share := 1.0
	less := func(by float64, seq int, code string, pairs ...any) {
		share -= by
		s.give(-by*of, 0, false, seq, code, pairs...)
	}
	for _, f := range a.hand.Findings {
		isFault := slices.ContainsFunc(a.sc.Faults, func(t machine.FaultSpec) bool { return a.right(f, t) })
		if isFault && (f.Filing == Incidental || f.Filing == NotAFault) {
			less(0.5, -1, "filing.cause-filed-otherwise", "reach", f.Reach, "filing", "@filing."+f.Filing)
		}
		if f.Filing != Root {
			continue
		}
		telling := 0
		for _, seq := range f.Evidence {
			if a.bears(seq, f.Reach) {
				telling++
			}
		}
		switch {
		case len(f.Evidence) == 0:
			less(0.5, -1, "filing.no-entry", "reach", f.Reach)
		case telling == 0:
			less(0.25, f.Evidence[0], "filing.no-entry-bears", "reach", f.Reach)
		default:
			s.tell(true, f.Evidence[0], "filing.entries-bear", "telling", telling, "offered", len(f.Evidence), "reach", f.Reach)
		}
	}
	if len(a.named()) == 0 {
		return 0
	}
	return max(share, 0) * of
}

// bears says that a ledger entry raised the odds of a reach, or cleared others
// enough to raise its share.
func (a *attempt) bears(seq int, reach string) bool {
	last := a.prior.Reach[reach]
	for i, r := range a.recorded {
		st := a.ledger.Lines()[i]
		if st.Seq == seq || (st.Entry != nil && st.Entry.Seq == seq) {
			return odds(r.Reach[reach]) > 1.15*odds(last)
		}
		last = r.Reach[reach]
	}
	return false
}

// board gives, of at most so many marks, for the marks of the board against what
// the evidence, taken as the apprentice took it, allowed at that moment.
func (a *attempt) board(s *Section, of float64) float64 {
	right, judged := 0, 0
	for _, m := range a.ledger.Marks() {
		if m.Mark == "" {
			continue
		}
		judged++
		if code, pairs := a.markWrong(m); code == "" {
			right++
		} else {
			s.tell(false, m.Seq, code, append(pairs, "reach", m.Reach)...)
		}
	}
	if judged == 0 {
		s.give(0, of, false, -1, "board.not-marked")
		return 0
	}
	marks := of * float64(right) / float64(judged)
	s.give(marks, of, right == judged, -1, "board.stood", "right", right, "marks", judged)
	return marks
}

// markWrong says why a mark of the board had no ground, or nothing.
func (a *attempt) markWrong(m ledger.BoardMark) (code string, pairs []any) {
	prior, now := a.prior.Reach[m.Reach], a.prior.Reach[m.Reach]
	for i, st := range a.ledger.Lines() {
		if st.Seq > m.Seq {
			break
		}
		now = a.asIfValid[i].Reach[m.Reach]
	}
	if _, weighed := a.prior.Reach[m.Reach]; !weighed {
		if m.Mark != ledger.MarkClear {
			return "board.no-evidence", []any{"mark", "@mark." + m.Mark}
		}
		for _, st := range a.ledger.Lines() {
			if st.Seq < m.Seq && st.Entry != nil && slices.Contains(a.cat.Test(st.Test).Proves, m.Reach) &&
				(st.Entry.Judged == "within" || st.Entry.Word == "daylight") {
				return "", nil
			}
		}
		return "board.nothing-proves", nil
	}
	at := []any{"now", percent(now), "prior", percent(prior)}
	if m.Mark == ledger.MarkClear {
		if now <= clearAt && odds(now)*clearOdds <= odds(prior)*1.0001 {
			return "", nil
		}
		if test := a.cannot(m.Reach, m.Seq); test != "" {
			return "board.cleared-too-soon-by", append(at, "test", test, "cannot", "@test."+test+".cannot")
		}
		return "board.cleared-too-soon", at
	}
	if odds(now) >= suspectOdds*odds(prior) || now >= suspectAt {
		return "", nil
	}
	return "board.hardly-raised", append(at, "mark", "@mark."+m.Mark)
}

// cannot is the last test at a reach's lateral that proves less than it was
// taken to, or "".
func (a *attempt) cannot(reach string, before int) string {
	for i := len(a.ledger.Lines()) - 1; i >= 0; i-- {
		st := a.ledger.Lines()[i]
		if st.Seq < before && st.Obs != nil {
			t := a.cat.Test(st.Test)
			if r := a.cat.Reach(reach); t.Lateral == r.Lateral && !slices.Contains(t.Proves, reach) {
				return t.ID
			}
		}
	}
	return ""
}

func clamp01(x float64) float64 { return min(max(x, 0), 1) }

// percent is a probability as it is said: whole percents, and no nearer to
// certainty than over 99 or under 1.
func percent(p float64) string {
	switch {
	case p > 0.995:
		return "@percent.over-99"
	case p < 0.005:
		return "@percent.under-1"
	}
	return fmt.Sprintf("%.0f %%", p*100)
}
