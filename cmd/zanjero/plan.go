package main

import (
	"context"
	"io"
	"os"
	"strings"

	"github.com/spf13/cobra"

	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/sequencing"
)

func planCommand() *cobra.Command {
	cmd := &cobra.Command{Use: "plan", Short: "Order tests by a diagnostic matrix (CSV; - reads standard input)"}
	tree := func(name, short string, make func(context.Context, *sequencing.Matrix) (*sequencing.Plan, error)) *cobra.Command {
		return onMatrix(name+" FILE.csv", short, 1, func(ctx context.Context, m *sequencing.Matrix, _ []string) (any, error) { return make(ctx, m) })
	}
	// With noise there is a simulated cost instead of a proven one.
	either := func(name, short string, make func(context.Context, *sequencing.Matrix) (*sequencing.Plan, error), rollout bool) *cobra.Command {
		return onMatrix(name+" FILE.csv", short, 1, func(ctx context.Context, m *sequencing.Matrix, _ []string) (any, error) {
			if m.HasNoise() {
				return sequencing.PlanNoisy(ctx, m, rollout)
			}
			return make(ctx, m)
		})
	}
	cmd.AddCommand(
		tree("optimal", "The order of least expected cost, by exact search", sequencing.Optimal),
		either("greedy", "The most information for its cost, each time", sequencing.Greedy, false),
		either("rollout", "The planned order: a rollout on cost over the greedy one", sequencing.Rollout, true),
		onMatrix("bound FILE.csv", "Proven lower bounds on any order", 1, func(ctx context.Context, m *sequencing.Matrix, _ []string) (any, error) {
			return sequencing.Bound(ctx, m)
		}),
		onMatrix("sequence FILE.csv t1,t2,…", "What a fixed order costs and isolates", 2,
			func(ctx context.Context, m *sequencing.Matrix, args []string) (any, error) {
				return sequencing.Sequence(m, list(args[0]))
			}),
		onMatrix("posterior FILE.csv t1=outcome,…", "What is believed once some outcomes are seen", 2,
			func(ctx context.Context, m *sequencing.Matrix, args []string) (any, error) {
				p, err := sequencing.Posterior(m, list(args[0]))
				return map[string]any{"posterior": p}, err
			}),
		matrixCommand(),
	)
	return cmd
}

// onMatrix is a command that reads a matrix and prints what comes of it.
func onMatrix(use, short string, args int, do func(ctx context.Context, m *sequencing.Matrix, args []string) (any, error)) *cobra.Command {
	return &cobra.Command{Use: use, Short: short, Args: cobra.MaximumNArgs(args), RunE: func(cmd *cobra.Command, given []string) error {
		if len(given) != args {
			return problem.New("arguments", "command.something-missing", "use", use)
		}
		return onFile(given[:1], func(in io.Reader) (any, error) {
			m, err := sequencing.Read(in)
			if err != nil {
				return nil, err
			}
			return do(cmd.Context(), m, given[1:])
		})
	}}
}

func list(text string) []string {
	if text == "" {
		return nil
	}
	return strings.Split(text, ",")
}

func matrixCommand() *cobra.Command {
	var family string
	cmd := &cobra.Command{Use: "matrix", Short: "Print the model's own matrix of a family", Args: cobra.NoArgs, RunE: func(cmd *cobra.Command, _ []string) error {
		fam := catalogue.Standard().Family(family)
		if fam == nil {
			return problem.New("--machine", "command.no-machine", "family", family)
		}
		m, err := diagnosis.Matrix(cmd.Context(), family, fam.Sheet, machine.Ambient{TemperatureC: 20})
		if err != nil {
			return err
		}
		return m.Write(os.Stdout)
	}}
	cmd.Flags().StringVar(&family, "machine", "", "the id of a family")
	return cmd
}
