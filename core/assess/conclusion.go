package assess

import (
	"fmt"
	"slices"
	"strings"

	"zanjero/core/diagnosis"
	"zanjero/core/ledger"
	"zanjero/core/machine"
)

// Classes of a conclusion.
const (
	Proven       = "proven"
	Supported    = "supported"
	Guessed      = "guessed"
	Symptom      = "symptom for cause"
	Contradicted = "contradicted"
	Misled       = "misled"
	StoppedEarly = "stopped early"
	Nothing      = "nothing named"
)

// Shares of the 35 marks of section 2.
const (
	rootMarks  = 22.0
	causeMarks = 4.0
	filedMarks = 4.0
	boardMarks = 5.0
)

// conclusion marks section 2, and gives the class and verdict of the whole.
func (a *attempt) conclusion() (s Section, class, verdict string) {
	s = Section{ID: "conclusion", Name: "Evidence and conclusion", Of: rootMarks + causeMarks + filedMarks + boardMarks, Reasons: []Reason{}}
	recorded := a.final[diagnosis.Recorded]
	named := a.named()
	sum := 0.0
	class, verdict = Nothing, "No root cause was named."
	for i, truth := range a.sc.Faults {
		share, c, text := a.judge(truth, named, recorded)
		sum += share
		s.Reasons = append(s.Reasons, Reason{text, -1, share >= 0.85})
		if i == 0 || share < 0.5 {
			class = c
		}
		if i == 0 {
			verdict = text
		} else {
			verdict += " " + text
		}
	}
	false_ := a.falselyAccused(named)
	share := sum / float64(len(a.sc.Faults))
	for _, f := range false_ {
		share -= 0.2
		s.Reasons = append(s.Reasons, Reason{fmt.Sprintf("%s was named as a cause and is sound; your record put %s on it.", a.cat.Reach(f.Reach).Name, percent(recorded.Reach[f.Reach])), -1, false})
	}
	s.Mark = rootMarks*max(share, 0) + a.cause(&s) + a.filed(&s) + a.board(&s)
	s.Mark = round1(s.Mark)
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

// judge gives the share of the root-cause marks for one hidden fault, the
// class, and the sentence that teaches.
func (a *attempt) judge(truth machine.FaultSpec, named []Finding, r diagnosis.Report) (share float64, class, text string) {
	def := a.cat.Fault(truth.ID)
	p := r.Fault[truth.ID]
	for _, f := range named {
		if !a.right(f, truth) {
			continue
		}
		switch second := a.runnerUp(truth.ID, r); {
		case p >= 0.90:
			return 0.9 + 0.1*(p-0.9)/0.1, Proven, fmt.Sprintf("%s: right, and proven. Your readings put %s on it.", def.Name, percent(p))
		case p >= 0.50 || p >= 3*second:
			return 0.65 + 0.2*clamp01((p-0.5)/0.4), Supported, fmt.Sprintf("%s: right and supported. Your readings put %s on it; one more test would have proved it.", def.Name, percent(p))
		default:
			return 0.3 + 0.3*p/0.5, Guessed, fmt.Sprintf("%s: right, but a guess. Your readings put only %s on it, against %s for the next.", def.Name, percent(p), percent(second))
		}
	}
	for _, f := range named {
		if a.symptomOf(f) == truth.ID {
			return 0.5, Symptom, fmt.Sprintf("You named %s, which %s brings about: the symptom for the cause.", a.cat.Fault(f.Fault).Name, strings.ToLower(def.Name))
		}
	}
	// Wrong: what did the record say of what was named instead?
	i := slices.IndexFunc(named, func(f Finding) bool {
		return !slices.ContainsFunc(a.sc.Faults, func(t machine.FaultSpec) bool { return a.right(f, t) })
	})
	if i < 0 {
		return 0, StoppedEarly, fmt.Sprintf("%s was not named. Your readings put %s on it.", def.Name, percent(p))
	}
	reach := a.cat.Reach(named[i].Reach).Name
	q := r.Reach[named[i].Reach]
	switch {
	case q < 0.02:
		return 0, Contradicted, fmt.Sprintf("You named %s; your own readings contradict it (%s). The cause was: %s.", reach, percent(q), def.Name)
	case q >= 0.50:
		return 0.35, Misled, fmt.Sprintf("You named %s, and the record pointed there (%s)%s. The cause was: %s.", reach, percent(q), a.misledBy(named[i].Reach), def.Name)
	}
	return 0.15, StoppedEarly, fmt.Sprintf("You named %s at %s; the evidence was not in yet. The cause was: %s.", reach, percent(q), def.Name)
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

// misledBy names the reading that raised a reach the most.
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
	return fmt.Sprintf("; %s raised it most", strings.ToLower(a.cat.Test(a.ledger.Lines()[at].Test).Title))
}

// filed marks the evidence offered and the other findings.
func (a *attempt) filed(s *Section) float64 {
	marks := filedMarks
	for _, f := range a.hand.Findings {
		isFault := slices.ContainsFunc(a.sc.Faults, func(t machine.FaultSpec) bool { return a.right(f, t) })
		if isFault && (f.Filing == Incidental || f.Filing == NotAFault) {
			marks -= 2
			s.Reasons = append(s.Reasons, Reason{fmt.Sprintf("%s was filed as %s; it is a cause.", a.cat.Reach(f.Reach).Name, strings.ReplaceAll(f.Filing, "-", " ")), -1, false})
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
			marks -= 2
			s.Reasons = append(s.Reasons, Reason{fmt.Sprintf("No entry was offered for %s.", a.cat.Reach(f.Reach).Name), -1, false})
		case telling == 0:
			marks--
			s.Reasons = append(s.Reasons, Reason{fmt.Sprintf("None of the entries offered for %s raised it; the one that did would carry the claim.", a.cat.Reach(f.Reach).Name), f.Evidence[0], false})
		default:
			s.Reasons = append(s.Reasons, Reason{fmt.Sprintf("%d of %d entries offered for %s bear it out.", telling, len(f.Evidence), a.cat.Reach(f.Reach).Name), f.Evidence[0], true})
		}
	}
	if len(a.named()) == 0 {
		return 0
	}
	return max(marks, 0)
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

// board marks the marks of the board against what the evidence, taken as the
// apprentice took it, allowed at that moment.
func (a *attempt) board(s *Section) float64 {
	right, judged := 0, 0
	for _, m := range a.ledger.Marks() {
		if m.Mark == "" {
			continue
		}
		ok, why := a.markRight(m)
		judged++
		if ok {
			right++
		} else {
			s.Reasons = append(s.Reasons, Reason{why, m.Seq, false})
		}
	}
	if judged == 0 {
		s.Reasons = append(s.Reasons, Reason{"The board was not marked.", -1, false})
		return 0
	}
	s.Reasons = append(s.Reasons, Reason{fmt.Sprintf("%d of %d marks on the board stood on evidence.", right, judged), -1, right == judged})
	return boardMarks * float64(right) / float64(judged)
}

func (a *attempt) markRight(m ledger.BoardMark) (bool, string) {
	reach := a.cat.Reach(m.Reach)
	prior, now := a.prior.Reach[m.Reach], a.prior.Reach[m.Reach]
	for i, st := range a.ledger.Lines() {
		if st.Seq > m.Seq {
			break
		}
		now = a.asIfValid[i].Reach[m.Reach]
	}
	if _, weighed := a.prior.Reach[m.Reach]; !weighed {
		if m.Mark != ledger.MarkClear {
			return false, fmt.Sprintf("%s was marked %s on no evidence.", reach.Name, m.Mark)
		}
		for _, st := range a.ledger.Lines() {
			if st.Seq < m.Seq && st.Entry != nil && slices.Contains(a.cat.Test(st.Test).Proves, m.Reach) && (st.Entry.Judged == "within" || st.Entry.Word == "daylight") {
				return true, ""
			}
		}
		return false, fmt.Sprintf("%s was cleared, and no test you had made proves it.", reach.Name)
	}
	if m.Mark == ledger.MarkClear {
		if now <= clearAt && odds(now)*clearOdds <= odds(prior)*1.0001 {
			return true, ""
		}
		return false, fmt.Sprintf("%s was cleared, but your readings left %s on it (%s at the start). %s", reach.Name, percent(now), percent(prior), a.whyNot(m.Reach, m.Seq))
	}
	if odds(now) >= suspectOdds*odds(prior) || now >= suspectAt {
		return true, ""
	}
	return false, fmt.Sprintf("%s was marked %s at %s, hardly more than the %s it began with.", reach.Name, m.Mark, percent(now), percent(prior))
}

// whyNot says what the last test at a reach cannot tell, when it proves less
// than it was taken to.
func (a *attempt) whyNot(reach string, before int) string {
	for i := len(a.ledger.Lines()) - 1; i >= 0; i-- {
		st := a.ledger.Lines()[i]
		if st.Seq < before && st.Obs != nil {
			t := a.cat.Test(st.Test)
			if r := a.cat.Reach(reach); t.Lateral == r.Lateral && !slices.Contains(t.Proves, reach) {
				return t.Title + ": " + lowerFirst(t.Cannot)
			}
		}
	}
	return ""
}

func lowerFirst(s string) string {
	if s == "" {
		return s
	}
	return strings.ToLower(s[:1]) + s[1:]
}

func clamp01(x float64) float64 { return min(max(x, 0), 1) }

func percent(p float64) string {
	switch {
	case p > 0.995:
		return "over 99 %"
	case p < 0.005:
		return "under 1 %"
	}
	return fmt.Sprintf("%.0f %%", p*100)
}
