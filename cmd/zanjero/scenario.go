package main

import (
	"io"
	"strings"

	"github.com/spf13/cobra"

	"zanjero/core/authoring"
	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/scenario"
)

func scenarioCommand() *cobra.Command {
	var list string
	cmd := &cobra.Command{Use: "scenario", Short: "What a scenario comes to, and scenarios that teach something (JSON; - reads standard input)",
		Args: cobra.NoArgs, RunE: func(cmd *cobra.Command, _ []string) error {
			if list == "" {
				return cmd.Help()
			}
			return printScenarioList(list)
		}}
	cmd.Flags().StringVar(&list, "list", "", "print complaints or statements")
	cmd.AddCommand(scenarioCheck(), scenarioGenerate(), scenarioVariants())
	return cmd
}

func printScenarioList(what string) error {
	switch what {
	case "complaints":
		return named("complaint", diagnosis.Complaints, func(c *diagnosis.Complaint) string { return c.ID })
	case "statements":
		return named("statement", catalogue.Standard().Statements, func(s *catalogue.Statement) string { return s.ID })
	}
	return problem.New("--list", "command.no-list-of-scenario", "want", what)
}

// scenarioIn reads a scenario that could be given out by its form, with the yard's own
// figures.
func scenarioIn(in io.Reader, own *ownFigures) (*scenario.Form, *scenario.Scenario, error) {
	f, err := scenario.ReadForm(in)
	if err != nil {
		return nil, nil, err
	}
	sc, bad := f.Scenario()
	if len(bad) > 0 {
		return nil, nil, &bad[0]
	}
	sc.Own, err = own.read()
	return f, sc, err
}

func scenarioCheck() *cobra.Command {
	var own ownFigures
	c := &cobra.Command{Use: "check FILE", Short: "Is the complaint true, can it be solved, how hard is it, what is it taken for", Args: cobra.MaximumNArgs(1)}
	c.RunE = func(cmd *cobra.Command, args []string) error {
		return onFile(args, func(in io.Reader) (any, error) {
			_, sc, err := scenarioIn(in, &own)
			if err != nil {
				return nil, err
			}
			a, err := authoring.Answers(cmd.Context(), sc)
			if err != nil {
				return nil, err
			}
			return authoring.Check(cmd.Context(), sc, a)
		})
	}
	own.flag(c)
	return c
}

func scenarioGenerate() *cobra.Command {
	var own ownFigures
	var family, lesson string
	var w authoring.Wanted
	c := &cobra.Command{Use: "generate", Short: "Scenarios on an engine that can be given out: by path, level, complaint or lesson", Args: cobra.NoArgs}
	f := c.Flags()
	f.StringVar(&family, "machine", "", "id of an engine family")
	f.StringVar(&w.Lateral, "lateral", "", "the path that is at fault: fuel, air, spark or compression")
	f.IntVar(&w.Level, "level", 0, "difficulty from 1 to 5; 0 for any")
	f.StringVar(&w.Complaint, "complaint", "", "id of a complaint")
	f.StringVar(&lesson, "lesson", "", "two faults or reaches that could be taken for each other, with a / between")
	f.IntVar(&w.Count, "count", 1, "how many")
	f.Uint64Var(&w.Seed, "seed", 0, "the same gives the same")
	c.RunE = func(cmd *cobra.Command, _ []string) error {
		if lesson != "" {
			one, other, ok := strings.Cut(lesson, "/")
			if !ok || one == "" || other == "" {
				return problem.New("--lesson", "command.lesson-of-two", "given", lesson)
			}
			w.Lesson = [2]string{one, other}
		}
		if w.Count < 1 || w.Count > 50 {
			return problem.New("--count", "command.count-out-of-range", "value", w.Count, "most", 50)
		}
		like, err := engineLike(family, &own)
		if err != nil {
			return err
		}
		a, err := authoring.Answers(cmd.Context(), like)
		if err != nil {
			return err
		}
		w.Words = func(complaint string) string { return words.Name("complaint", complaint, "said") }
		found, err := authoring.Generate(cmd.Context(), like, a, w)
		if err != nil {
			return err
		}
		return printForms(found)
	}
	own.flag(c)
	return c
}

// engineLike is a scenario on a family's own engine with nothing wrong, for what is asked
// of the engine alone.
func engineLike(family string, own *ownFigures) (*scenario.Scenario, error) {
	fam := catalogue.Standard().Family(family)
	if fam == nil {
		var ids []string
		for _, x := range catalogue.Standard().Families {
			ids = append(ids, x.ID)
		}
		return nil, problem.New("--machine", "sim.no-machine", "family", family, "ids", ids)
	}
	figures, err := own.read()
	return &scenario.Scenario{Family: fam.ID, Sheet: fam.Sheet, Ambient: machine.Ambient{TemperatureC: 20}, Own: figures}, err
}

func scenarioVariants() *cobra.Command {
	var own ownFigures
	var count int
	var seed uint64
	c := &cobra.Command{Use: "variants FILE", Short: "Scenarios that are as hard, and hide something else", Args: cobra.MaximumNArgs(1)}
	c.Flags().IntVar(&count, "count", 4, "how many")
	c.Flags().Uint64Var(&seed, "seed", 0, "the same gives the same")
	c.RunE = func(cmd *cobra.Command, args []string) error {
		if count < 1 || count > 50 {
			return problem.New("--count", "command.count-out-of-range", "value", count, "most", 50)
		}
		return onFile(args, func(in io.Reader) (any, error) {
			_, sc, err := scenarioIn(in, &own)
			if err != nil {
				return nil, err
			}
			a, err := authoring.Answers(cmd.Context(), sc)
			if err != nil {
				return nil, err
			}
			found, err := authoring.Variants(cmd.Context(), sc, a, count, seed, nil)
			if err != nil {
				return nil, err
			}
			return formsOf(found), nil
		})
	}
	own.flag(c)
	return c
}

func formsOf(found []authoring.Found) []scenario.Form {
	out := make([]scenario.Form, len(found))
	for i := range found {
		out[i] = found[i].Form
	}
	return out
}

func printForms(found []authoring.Found) error { return printJSON(formsOf(found)) }
