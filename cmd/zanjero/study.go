package main

import (
	"io"

	"github.com/spf13/cobra"

	"zanjero/core/study"
)

func studyCommand() *cobra.Command {
	return &cobra.Command{Use: "study FILE.csv", Short: "How far readings can be trusted: people, engines and repeats (CSV; - reads standard input)",
		Args: cobra.MaximumNArgs(1), RunE: func(_ *cobra.Command, args []string) error {
			return onFile(args, func(in io.Reader) (any, error) {
				readings, err := study.Read(in)
				if err != nil {
					return nil, err
				}
				r, p := study.Analyse(readings)
				if p != nil {
					return nil, p
				}
				return r, nil
			})
		}}
}
