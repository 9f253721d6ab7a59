package main

import (
	"io"

	"github.com/spf13/cobra"

	"zanjero/core/diagnosis"
	"zanjero/core/sim"
)

func believeCommand() *cobra.Command {
	var by diagnosis.Weights
	cmd := &cobra.Command{
		Use:   "believe FILE",
		Short: "What a ledger of observations makes of an engine (JSON; - reads standard input)",
		Args:  cobra.MaximumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return onFile(args, func(in io.Reader) (any, error) {
				seen, err := sim.ReadSeen(in)
				if err != nil {
					return nil, err
				}
				return diagnosis.Believe(cmd.Context(), seen, by)
			})
		},
	}
	cmd.Flags().Float64Var(&by.MinutesPerMoney, "minutes-per-money", 0, "let what a test uses up count as minutes, by unit of money")
	cmd.Flags().Float64Var(&by.MinutesPerHazard, "minutes-per-hazard", 0, "let each hazard of a test count as minutes")
	return cmd
}
