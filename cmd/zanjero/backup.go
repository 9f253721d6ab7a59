package main

import (
	"errors"
	"fmt"
	"os"

	"github.com/spf13/cobra"

	"zanjero/core/problem"
	"zanjero/internal/cluster"
	"zanjero/internal/store"
)

func backupCommand() *cobra.Command {
	var at place
	cmd := &cobra.Command{Use: "backup FILE", Short: "Write all that is in the database to a file, while it is served or not", Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			if _, err := os.Stat(args[0]); err == nil {
				return problem.New("FILE", "command.file-exists", "file", args[0])
			}
			return withDatabase(c.Context(), at, func(url string) error {
				half := args[0] + ".part"
				defer os.Remove(half)
				if err := cluster.Dump(c.Context(), url, half); err != nil {
					return err
				}
				if err := os.Rename(half, args[0]); err != nil {
					return err
				}
				say("written to %s", args[0])
				return nil
			})
		}}
	at.flags(cmd.Flags())
	return cmd
}

func restoreCommand() *cobra.Command {
	var at place
	cmd := &cobra.Command{Use: "restore FILE", Short: "Put what a backup holds into an empty database, whole or not at all", Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			if _, err := os.Stat(args[0]); err != nil {
				return problem.New("FILE", "command.file-unreadable", "detail", err.Error())
			}
			return withDatabase(c.Context(), at, func(url string) error {
				empty, err := cluster.Empty(c.Context(), url)
				if err != nil {
					return err
				}
				if !empty {
					return errors.New("this database is not empty; restore into an empty one: name a new folder with --dir, or a new database with ZANJERO_DATABASE_URL")
				}
				if err := cluster.Restore(c.Context(), url, args[0]); err != nil {
					return fmt.Errorf("nothing was restored: %w", err)
				}
				st, err := store.Open(c.Context(), url) // a backup of an older program is brought up to date
				if err != nil {
					return err
				}
				say("restored from %s", args[0])
				return st.Close()
			})
		}}
	at.flags(cmd.Flags())
	return cmd
}
