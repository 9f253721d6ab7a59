package main

import (
	"fmt"
	"runtime/debug"

	"github.com/spf13/cobra"

	"zanjero/core/machine"
)

func versionCommand() *cobra.Command {
	return &cobra.Command{
		Use: "version", Short: "Print the versions of program and model", Args: cobra.NoArgs,
		Run: func(*cobra.Command, []string) {
			revision := "unknown"
			if info, ok := debug.ReadBuildInfo(); ok {
				for _, s := range info.Settings {
					if s.Key == "vcs.revision" {
						revision = s.Value
					}
				}
			}
			fmt.Printf("zanjero revision %s, model %s\n", revision, machine.Version)
		},
	}
}
