package assess

import (
	"fmt"
	"math"
	"slices"

	"zanjero/core/authoring"
	"zanjero/core/bench"
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
	// Isolated: the evidence leaves one reach and the work mended it, with no mechanism
	// claimed, or another one. Sometimes nobody learns more.
	Isolated = "isolated"
	Nothing  = "nothing-named"
)

// Shares of the conclusion: the root, how it came about, how it was filed, and
// the board.
const (
	rootShare  = 22.0 / 35
	causeShare = 4.0 / 35
	filedShare = 4.0 / 35
	boardShare = 5.0 / 35
)

// classes from the best to the worst: with several hidden faults the worst counts.
var classes = []string{Proven, Isolated, Supported, Guessed, Symptom, Misled, StoppedEarly, Contradicted, Nothing}

// concluded is what a conclusion comes to.
type concluded struct {
	section Section
	class   string
	verdict []Reason
	p       float64 // what the record says of it
	cause   float64 // how far up the chain it came
	found   float64 // share of the root
	accused []string
}

// Shares of the root's marks that are lost by accusing something sound, by condemning an
// engine on too little, and where the work came first and the evidence after it: then
// luck and money found it: all of that where it was no likelier than a half. Sizes chosen
// by us.
const (
	accusedCosts   = 0.2
	condemnedCosts = 0.2
	fittedCosts    = 0.4
)

// conclusion marks evidence and conclusion.
func (a *attempt) conclusion() (c concluded) {
	s := Section{ID: "conclusion", Of: a.rubric.Conclusion, Reasons: []Reason{}}
	recorded := a.final[diagnosis.Recorded]
	named := a.named()
	root := rootShare * s.Of
	each := root / float64(len(a.sc.Faults))
	sum, worst := 0.0, -1
	c.accused = []string{}
	for _, truth := range a.sc.Faults {
		j := a.judge(truth, named, recorded)
		sum += j.share * each
		c.found += j.share / float64(len(a.sc.Faults))
		s.give(j.share*each, each, j.share >= 0.85, -1, "conclusion."+j.code, j.params...)
		c.verdict = append(c.verdict, s.Reasons[len(s.Reasons)-1])
		if at := slices.Index(classes, j.class); at > worst {
			worst, c.class, c.p = at, j.class, round4(j.p)
		}
	}
	less := func(share float64, code string, pairs ...any) {
		costs := min(share*root, sum)
		sum -= costs
		s.give(-costs, 0, false, -1, code, pairs...)
	}
	for _, f := range a.falselyAccused(named) {
		c.accused = append(c.accused, f.Reach)
		less(accusedCosts, "conclusion.falsely-accused", "reach", f.Reach, "percent", percent(recorded.Reach[f.Reach]))
	}
	if reach := a.condemnedOnLittle(); reach != "" {
		less(condemnedCosts, "conclusion.condemned-on-little", "reach", reach)
	}
	if s := a.fittedFirst(); s != nil {
		less(fittedCosts*min(1, 2*(1-s.likely)), "conclusion.fitted-first", "reach", s.reach, "repair", s.repair, "percent", percent(s.likely))
	}
	marks, share := a.cause(&s, causeShare*s.Of)
	c.cause = round2(share)
	s.Mark = round1(sum + marks + a.filed(&s, filedShare*s.Of) + a.board(&s, boardShare*s.Of))
	c.section = s
	return c
}

// condemnShare is the share of a machine's worth from which work on it is as good as
// condemning the engine (common practice; size chosen by us).
const condemnShare = 0.5

// condemnedOnLittle is the reach of a finding that condemns the engine without a reading
// that was repeated and another that is independent; "" for none.
func (a *attempt) condemnedOnLittle() string {
	worth := a.sc.Sheet["worth_money"].Middle()
	for _, f := range a.named() {
		if f.Filing != Root || (a.hand.Verdict != NotWorth && a.workCost(f) <= condemnShare*worth) {
			continue
		}
		times := a.readOf(f.Reach)
		repeated := false
		for _, n := range times {
			repeated = repeated || n > 1
		}
		if !repeated || len(times) < 2 {
			return f.Reach
		}
	}
	return ""
}

// readOf is how often each test was read and written down that tells of a reach.
func (a *attempt) readOf(reach string) map[string]int {
	times := map[string]int{}
	for _, st := range a.ledger.Lines() {
		if isTest(&st) && st.Entry != nil && slices.Contains(a.cat.Test(st.Test).Reaches, reach) {
			times[st.Test]++
		}
	}
	return times
}

// fittedFirst is work that mended a hidden fault before anything spoke for it, or nil.
func (a *attempt) fittedFirst() *step {
	for i := range a.steps {
		s := &a.steps[i]
		if !s.unfounded || s.sooner != "" { // what mends it whatever it is was no guess
			continue
		}
		for _, t := range a.sc.Faults {
			if slices.Contains(a.cat.Repair(s.repair, s.reach).Mends, t.ID) {
				return s
			}
		}
	}
	return nil
}

// workCost is what the cheapest proper work costs that mends what a finding names, parts
// and labour; 0 where nothing is named that work mends.
func (a *attempt) workCost(f Finding) float64 {
	if f.Fault == "" {
		return 0
	}
	other := *a.sc
	other.Faults = []machine.FaultSpec{{ID: f.Fault, Severity: 1}}
	return ValueOf(&other).Cost
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
	p      float64
	class  string
	code   string // of what is said, where it is not the class
	params []any
}

func (a *attempt) judge(truth machine.FaultSpec, named []Finding, r diagnosis.Report) judged {
	group := a.group(truth.ID)
	p := among(r, group)
	reach := a.cat.Fault(truth.ID).Reach
	say := func(share float64, class string, pairs ...any) judged {
		return judged{share, p, class, class, append(pairs, "fault", truth.ID, "p", percent(p))}
	}
	// Named without the mechanism, or with that of another of the same reach.
	if r.Reach[reach] >= 0.90 && a.mendedAndProved(truth.ID) && !a.namedExactly(truth, named) &&
		slices.ContainsFunc(named, func(f Finding) bool { return f.Reach == reach && a.symptomOf(f) == "" }) {
		p = r.Reach[reach]
		return say(0.9+(p-0.9), Isolated, "reach", reach)
	}
	for _, f := range named {
		if !a.right(f, truth) {
			continue
		}
		if f.Fault == "" {
			p = max(p, r.Reach[f.Reach])
		}
		switch second := a.runnerUp(group, r); {
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
	// Wrong: what did the record say of what was named instead? Of several, the likeliest.
	i, q := -1, -1.0
	for k, f := range named {
		if slices.ContainsFunc(a.sc.Faults, func(t machine.FaultSpec) bool { return a.right(f, t) }) {
			continue
		}
		said := r.Reach[f.Reach]
		if f.Fault != "" {
			said = r.Fault[f.Fault]
		}
		if said > q {
			i, q = k, said
		}
	}
	if i < 0 {
		j := say(0, StoppedEarly)
		if j.code = "not-named"; len(named) == 0 {
			j.class = Nothing
		}
		return j
	}
	p = q
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

// group are the faults that need not be told from one: those of its reach that the same
// work mends.
func (a *attempt) group(fault string) (out []string) {
	reach := a.cat.Fault(fault).Reach
	for _, id := range authoring.SameWork(a.sc, fault) {
		if def := a.cat.Fault(id); def != nil && def.Reach == reach {
			out = append(out, id)
		}
	}
	if !slices.Contains(out, fault) {
		out = append(out, fault)
	}
	return out
}

// among is how likely any of some faults of one reach is: no more than the reach, for more
// than one may be there.
func among(r diagnosis.Report, faults []string) (p float64) {
	for _, f := range faults {
		p += r.Fault[f]
	}
	return min(p, 1)
}

// mendedAndProved says that work mended a hidden fault and a run showed the complaint gone.
func (a *attempt) mendedAndProved(fault string) bool {
	mended := slices.ContainsFunc(a.ledger.Fitted(), func(p bench.FittedPart) bool { return slices.Contains(p.Mended, fault) })
	return mended && a.goodRun() >= 0
}

// namedExactly says that a finding names a hidden fault by its mechanism.
func (a *attempt) namedExactly(truth machine.FaultSpec, named []Finding) bool {
	return slices.ContainsFunc(named, func(f Finding) bool { return f.Fault == truth.ID })
}

// runnerUp is the greatest standing of any fault outside a group.
func (a *attempt) runnerUp(group []string, r diagnosis.Report) (p float64) {
	for id, q := range r.Fault {
		if !slices.Contains(group, id) && !slices.ContainsFunc(a.sc.Faults, func(t machine.FaultSpec) bool { return t.ID == id }) {
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
	if len(a.named()) == 0 {
		s.give(0, of, false, -1, "filing.nothing-named")
		return 0
	}
	s.give(of, of, true, -1, "filing.of-all")
	less := func(by float64, seq int, code string, pairs ...any) {
		by = min(by, share)
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
	return share * of
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

func round4(x float64) float64 { return math.Round(x*1e4) / 1e4 }

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
