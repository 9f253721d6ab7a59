package main

import (
	"github.com/spf13/cobra"

	"zanjero/core/bench"
	"zanjero/core/diagnosis"
)

func believeCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "believe FILE",
		Short: "What a ledger of observations makes of an engine (JSON; - reads standard input)",
		Args:  cobra.MaximumNArgs(1),
		RunE: func(_ *cobra.Command, args []string) error {
			if len(args) != 1 {
				return &bench.Problem{Path: "FILE", Problem: "no file was named", Mend: "name a JSON file, or - for standard input"}
			}
			in, err := open(args[0])
			if err != nil {
				return err
			}
			defer in.Close()
			seen, err := bench.ReadSeen(in)
			if err != nil {
				return err
			}
			out, err := diagnosis.Believe(seen)
			if err != nil {
				return err
			}
			return printJSON(out)
		},
	}
}
