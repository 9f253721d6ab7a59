package main

import (
	"errors"
	"fmt"
	"io"
	"os"
	"slices"

	"github.com/spf13/cobra"

	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/procedure"
	"zanjero/internal/interop"
)

// evaluated is what `procedure evaluate` prints.
type evaluated struct {
	*procedure.Evaluation
	Better  []procedure.Move   `json:"better_orders,omitempty"`
	Beside  []procedure.Row    `json:"beside,omitempty"`
	Planned *procedure.Planned `json:"planned,omitempty"`
}

func procedureCommand() *cobra.Command {
	cmd := &cobra.Command{Use: "procedure", Short: "Ordered diagnostic procedures, in packs (JSON; - reads standard input)"}
	var family, complaint, id, as string
	var better, beside bool
	own := &ownFigures{}
	plan, compare := procedurePlanCommand(own), procedureCompareCommand(own)
	named := func(c *cobra.Command) *cobra.Command {
		c.Flags().StringVar(&family, "machine", "", "the id of a family")
		c.Flags().StringVar(&id, "procedure", "", "the id of one procedure of the pack; not needed where it holds one")
		return c
	}
	evaluate := named(&cobra.Command{Use: "evaluate FILE", Short: "What a procedure costs and finds on a machine's population",
		Args: cobra.MaximumNArgs(1), RunE: func(cmd *cobra.Command, args []string) error {
			ctx := cmd.Context()
			return onFile(args, func(in io.Reader) (any, error) {
				p, fam, err := chosen(in, id, complaint, family)
				if err != nil {
					return nil, err
				}
				job, err := own.job(fam)
				if err != nil {
					return nil, err
				}
				claim, err := claimed(complaint)
				if err != nil {
					return nil, err
				}
				pop, err := procedure.NewPopulation(ctx, job, claim)
				if err != nil {
					return nil, err
				}
				out := &evaluated{}
				if out.Evaluation, err = pop.Evaluate(ctx, p); err != nil {
					return nil, err
				}
				if better {
					if out.Better, err = pop.Better(ctx, p); err != nil {
						return nil, err
					}
				}
				if beside && complaint == "" {
					return nil, problem.New("--beside", "command.beside-without-complaint")
				}
				if beside {
					if out.Planned, err = procedure.Plan(ctx, job, claim); err != nil {
						return nil, err
					}
					if out.Beside, err = pop.Beside(ctx, out.Planned, complaint); err != nil {
						return nil, err
					}
				}
				return out, nil
			})
		}})
	evaluate.Flags().StringVar(&complaint, "complaint", "", "weigh the population by an owner's complaint, such as no-start")
	evaluate.Flags().BoolVar(&better, "better", false, "look for better orders too")
	evaluate.Flags().BoolVar(&beside, "beside", false, "hold the schools and the planned order against each other too")
	export := named(&cobra.Command{Use: "export FILE", Short: "Print a procedure, or what it comes to, in an open form", Args: cobra.MaximumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			if len(args) != 1 {
				return problem.New("FILE", "command.no-file-was-named")
			}
			in, err := open(args[0])
			if err != nil {
				return err
			}
			defer in.Close()
			p, fam, err := chosen(in, id, complaint, family)
			if err != nil {
				return err
			}
			print := interop.Printer{Words: words}
			forms := map[string]func(*procedure.Procedure, string, catalogue.Sheet) string{"markdown": print.Markdown, "dot": print.DOT, "mermaid": print.Mermaid}
			figures := map[string]func(*procedure.Procedure, *procedure.Evaluation) string{"ditch.csv": print.DitchCSV, "ditch.svg": print.DitchSVG,
				"heat.csv": print.HeatCSV, "heat.svg": print.HeatSVG}
			switch {
			case forms[as] != nil:
				_, err = fmt.Print(forms[as](p, fam.ID, fam.Sheet))
				return err
			case figures[as] == nil:
				return problem.New("--as", "command.no-form", "form", as)
			}
			claim, err := claimed(complaint)
			if err != nil {
				return err
			}
			job, err := own.job(fam)
			if err != nil {
				return err
			}
			pop, err := procedure.NewPopulation(cmd.Context(), job, claim)
			if err != nil {
				return err
			}
			e, err := pop.Evaluate(cmd.Context(), p)
			if err == nil {
				_, err = fmt.Print(figures[as](p, e))
			}
			return err
		}})
	export.Flags().StringVar(&complaint, "complaint", "", "with the name of a school, the complaint whose page is meant")
	export.Flags().StringVar(&as, "as", "markdown", "markdown, dot or mermaid; or what it comes to: ditch.csv, ditch.svg, heat.csv, heat.svg")
	schools := &cobra.Command{Use: "schools", Short: "Print the five schools as a pack", Args: cobra.NoArgs, RunE: func(*cobra.Command, []string) error {
		_, err := io.WriteString(os.Stdout, procedure.SchoolsJSON())
		return err
	}}
	for _, c := range []*cobra.Command{evaluate, export, plan, compare} {
		own.flag(c)
	}
	cmd.AddCommand(evaluate, export, schools, plan, compare)
	return cmd
}

// procedurePlanCommand finds a page by computation and prints it as a pack.
func procedurePlanCommand(own *ownFigures) *cobra.Command {
	var family, complaint string
	spec := procedure.PageSpec{}
	plan := &cobra.Command{Use: "plan", Short: "Find a page of few steps by computation, under noise, and print it as a pack", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			fam := catalogue.Standard().Family(family)
			if fam == nil {
				return problem.New("--machine", "command.no-machine-2", "family", family)
			}
			if complaint == "" {
				return problem.New("--complaint", "command.plan-without-complaint")
			}
			claim, err := claimed(complaint)
			if err != nil {
				return err
			}
			if spec.Steps < 1 || spec.Steps > procedure.MaxPageSteps {
				return problem.New("--steps", "command.steps-out-of-range", "steps", spec.Steps, "most", procedure.MaxPageSteps)
			}
			if !(spec.WrongCosts >= 0 && spec.WrongCosts <= 1e5) {
				return problem.New("--wrong-costs", "command.wrong-costs-out-of-range", "minutes", spec.WrongCosts)
			}
			if err := knownSchool(spec.School); err != nil {
				return err
			}
			job, err := own.job(fam)
			if err != nil {
				return err
			}
			ctx := cmd.Context()
			pop, err := procedure.NewPopulation(ctx, job, claim)
			if err != nil {
				return err
			}
			spec.Complaint = complaint
			spec.Progress = func(done float64) {
				fmt.Fprintf(os.Stderr, "\r%s", words.Text("print.planning", problem.Pairs("percent", int(100*done))))
			}
			p, _, err := pop.PlanPage(ctx, spec)
			fmt.Fprintln(os.Stderr)
			if err != nil {
				return err
			}
			return printJSON(procedure.Pack{Format: procedure.Format, Version: procedure.Version, Name: p.Title, Procedures: []procedure.Procedure{*p}})
		}}
	plan.Flags().StringVar(&family, "machine", "", "the id of a family")
	plan.Flags().StringVar(&complaint, "complaint", "", "the owner's complaint, such as no-start")
	plan.Flags().IntVar(&spec.Steps, "steps", 12, "the most steps")
	plan.Flags().StringVar(&spec.School, "school", "", "begin with the first moves of a school, such as dose-first")
	plan.Flags().Float64Var(&spec.WrongCosts, "wrong-costs", 0, "what a wrong part is worth, minutes; 0 for what makes it as good as the schools")
	plan.Flags().Uint64Var(&spec.Seed, "seed", 0, "the same seed gives the same page")
	return plan
}

// compared is what `procedure compare` prints.
type compared struct {
	Machine   string          `json:"machine"`
	Complaint string          `json:"complaint"`
	Rows      []procedure.Row `json:"rows"`
	// Left are procedures of the pack that are for other machines or complaints.
	Left []string `json:"left_out"`
}

// procedureCompareCommand holds the procedures of a pack against each other on one
// population.
func procedureCompareCommand(own *ownFigures) *cobra.Command {
	var family, complaint string
	compare := &cobra.Command{Use: "compare FILE", Short: "Hold the procedures of a pack against each other on a machine's population",
		Args: cobra.MaximumNArgs(1), RunE: func(cmd *cobra.Command, args []string) error {
			return onFile(args, func(in io.Reader) (any, error) {
				fam := catalogue.Standard().Family(family)
				if fam == nil {
					return nil, problem.New("--machine", "command.no-machine-2", "family", family)
				}
				claim, err := claimed(complaint)
				if err != nil {
					return nil, err
				}
				pack, err := procedure.Read(in)
				if err != nil {
					return nil, err
				}
				job, err := own.job(fam)
				if err != nil {
					return nil, err
				}
				pop, err := procedure.NewPopulation(cmd.Context(), job, claim)
				if err != nil {
					return nil, err
				}
				out := compared{Machine: fam.ID, Complaint: complaint, Rows: []procedure.Row{}, Left: []string{}}
				for i, p := range pack.Expand() {
					if !slices.Contains(p.Families, fam.ID) || (p.Complaint != "" && complaint != "" && p.Complaint != complaint) {
						out.Left = append(out.Left, p.ID)
						continue
					}
					for _, f := range p.Check(fam.ID, fam.Sheet) {
						if f.Serious {
							return nil, f.At(fmt.Sprintf("procedures[%d].", i))
						}
					}
					e, err := pop.Evaluate(cmd.Context(), &p)
					if err != nil {
						return nil, err
					}
					out.Rows = append(out.Rows, e.Row())
				}
				return out, nil
			})
		}}
	compare.Flags().StringVar(&family, "machine", "", "the id of a family")
	compare.Flags().StringVar(&complaint, "complaint", "", "weigh the population by an owner's complaint, such as no-start")
	return compare
}

// ownFigures are the figures of a yard's own that a command goes by.
type ownFigures struct{ file string }

func (o *ownFigures) flag(c *cobra.Command) {
	c.Flags().StringVar(&o.file, "own", "", "a file of the yard's own minutes and base rates")
}

// job is a family's engine on a day of 20 °C, with the own figures where there are any.
func (o *ownFigures) job(fam *catalogue.Family) (diagnosis.Job, error) {
	j := diagnosis.Job{Family: fam.ID, Sheet: fam.Sheet, Ambient: machine.Ambient{TemperatureC: 20}}
	own, err := o.read()
	if err == nil && own != nil {
		j.Catalogue = catalogue.Standard().With(own)
	}
	return j, err
}

// read gives the own figures, nil where no file is named.
func (o *ownFigures) read() (*catalogue.Own, error) {
	if o.file == "" {
		return nil, nil
	}
	in, err := open(o.file)
	if err != nil {
		return nil, err
	}
	defer in.Close()
	own, err := catalogue.Standard().ReadOwn(in)
	var p *problem.Problem
	if errors.As(err, &p) {
		return nil, p.At("--own ")
	}
	return own, err
}

// knownSchool refuses a school that there is none of; none at all is fine.
func knownSchool(id string) error {
	var ids []string
	for _, p := range procedure.Schools().Procedures {
		if !slices.Contains(ids, p.School) {
			ids = append(ids, p.School)
		}
	}
	if id == "" || slices.Contains(ids, id) {
		return nil
	}
	return problem.New("--school", "command.no-school", "school", id, "schools", ids)
}

// chosen reads a pack and picks one procedure of it for a family, by its id or by
// its school and complaint. What is
// serious against it comes back as an error.
func chosen(in io.Reader, id, complaint, family string) (*procedure.Procedure, *catalogue.Family, error) {
	fam := catalogue.Standard().Family(family)
	if fam == nil {
		return nil, nil, problem.New("--machine", "command.no-machine-2", "family", family)
	}
	pack, err := procedure.Read(in)
	if err != nil {
		return nil, nil, err
	}
	all := pack.Expand()
	var ids []string
	for _, p := range all {
		ids = append(ids, p.ID)
	}
	i := slices.Index(ids, id)
	if i < 0 { // a school by its name has a page for each complaint
		i = slices.IndexFunc(all, func(p procedure.Procedure) bool {
			return id != "" && p.School == id && (complaint == "" || p.Complaint == complaint)
		})
	}
	if id == "" && len(all) == 1 {
		i = 0
	}
	if i < 0 {
		return nil, nil, problem.New("--procedure", "command.pack-no-procedure", "id", id, "ids", ids)
	}
	for _, f := range all[i].Check(fam.ID, fam.Sheet) {
		if f.Serious {
			f.Path = fmt.Sprintf("procedures[%d].%s", i, f.Path)
			return nil, nil, &f.Problem
		}
	}
	return &all[i], fam, nil
}

// claimed is a complaint by its id; none for an empty one.
func claimed(id string) (diagnosis.Claim, error) {
	var ids []string
	for _, c := range diagnosis.Complaints {
		if c.ID == id {
			return c.Claim, nil
		}
		ids = append(ids, c.ID)
	}
	if id == "" {
		return diagnosis.Claim{}, nil
	}
	return diagnosis.Claim{}, problem.New("--complaint", "command.no-complaint", "id", id, "ids", ids)
}

func packCommand() *cobra.Command {
	cmd := &cobra.Command{Use: "pack", Short: "Packs of procedures, in the project's open format"}
	cmd.AddCommand(&cobra.Command{Use: "validate FILE", Short: "Check a pack whole, and list what is wrong and where (JSON; - reads standard input)",
		Args: cobra.MaximumNArgs(1), RunE: func(_ *cobra.Command, args []string) error {
			var report *interop.Report
			err := onFile(args, func(in io.Reader) (any, error) {
				var err error
				report, err = interop.ValidatePack(in)
				return report, err
			})
			if err != nil {
				return err
			}
			for _, f := range report.Findings {
				if f.Serious { // the list is printed; the exit code says that it matters
					return &f.Problem
				}
			}
			return nil
		}})
	return cmd
}
