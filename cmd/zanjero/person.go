package main

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"os"
	"slices"
	"strings"

	"github.com/google/uuid"
	"github.com/spf13/cobra"
	"github.com/spf13/pflag"

	"zanjero/core/problem"
	"zanjero/internal/cluster"
	"zanjero/internal/password"
	"zanjero/internal/store"
)

// leastPassword is the fewest letters of a password (OWASP ASVS 2.1.1 asks for
// twelve).
const leastPassword = 12

func personCommand() *cobra.Command {
	var display, role string
	var at place
	cmd := &cobra.Command{
		Use: "person", Short: "People who can sign in: add, list, password, disable, enable, sign-out",
		Long: "People who can sign in. The database is that of ZANJERO_DATABASE_URL, or the private one under --dir,\n" +
			"whether or not it is being served. A password is read from standard input, one line.",
	}
	at.flags(cmd.PersistentFlags())
	on := func(use, short string, do func(ctx context.Context, st *store.Store, name string) error) *cobra.Command {
		return &cobra.Command{Use: use + " NAME", Short: short, Args: cobra.ExactArgs(1), RunE: func(c *cobra.Command, args []string) error {
			return withStore(c.Context(), at, func(st *store.Store) error {
				return do(c.Context(), st, strings.ToLower(strings.TrimSpace(args[0])))
			})
		}}
	}
	// change does something to somebody who is there.
	change := func(use, short, done string, do func(ctx context.Context, st *store.Store, p store.Person) error) *cobra.Command {
		return on(use, short, func(ctx context.Context, st *store.Store, name string) error {
			p, err := st.PersonByName(ctx, name)
			if errors.Is(err, store.ErrNotFound) {
				return problem.New("NAME", "person.unknown", "name", name)
			}
			if err == nil {
				err = do(ctx, st, p)
			}
			if err == nil {
				say("%s: %s", name, done)
			}
			return err
		})
	}
	add := on("add", "Add somebody, with a password from standard input", func(ctx context.Context, st *store.Store, name string) error {
		if p := checkPerson(name, role); p != nil {
			return p
		}
		pw, err := newPassword()
		if err != nil {
			return err
		}
		if display == "" {
			display = name
		}
		err = st.AddPerson(ctx, &store.Person{ID: uuid.New(), Name: name, DisplayName: display, Role: role, PasswordHash: password.Standard.Hash(pw),
			SessionEpoch: 1})
		if store.IsDuplicate(err) {
			return problem.New("NAME", "person.name-taken", "name", name)
		}
		if err == nil {
			say("%s: added as %s", name, role)
		}
		return err
	})
	add.Flags().StringVar(&display, "display-name", "", "the name that others see; the sign-in name where none is given")
	add.Flags().StringVar(&role, "role", store.Apprentice, strings.Join(store.Roles, ", "))
	list := &cobra.Command{Use: "list", Short: "List everybody", Args: cobra.NoArgs, RunE: func(c *cobra.Command, _ []string) error {
		return withStore(c.Context(), at, func(st *store.Store) error {
			ps, err := st.People(c.Context(), "")
			for _, p := range ps {
				state := ""
				if p.Disabled {
					state = "disabled"
				}
				fmt.Printf("%-24s %-14s %-30s %s\n", p.Name, p.Role, p.DisplayName, state)
			}
			return err
		})
	}}
	cmd.AddCommand(add, list,
		change("password", "Change a password, from standard input, and end the sessions under the old one", "password changed",
			func(ctx context.Context, st *store.Store, p store.Person) error {
				pw, err := newPassword()
				if err != nil {
					return err
				}
				return st.NotePassword(ctx, p.ID, password.Standard.Hash(pw))
			}),
		change("disable", "Bar somebody from signing in, and end their sessions", "disabled", func(ctx context.Context, st *store.Store, p store.Person) error {
			return st.Disable(ctx, p.ID, true)
		}),
		change("enable", "Let somebody in again who was disabled", "enabled", func(ctx context.Context, st *store.Store, p store.Person) error {
			return st.Disable(ctx, p.ID, false)
		}),
		change("sign-out", "End every session of somebody, wherever it is", "signed out everywhere",
			func(ctx context.Context, st *store.Store, p store.Person) error {
				return st.EndSessions(ctx, p.ID)
			}),
	)
	return cmd
}

// checkPerson refuses a name or role that cannot be.
func checkPerson(name, role string) *problem.Problem {
	if len(name) < 2 || len(name) > 80 || strings.ContainsFunc(name, func(r rune) bool { return r <= ' ' || r == 0x7f }) {
		return problem.New("NAME", "person.bad-name", "name", name)
	}
	if !slices.Contains(store.Roles, role) {
		return problem.New("--role", "person.no-role", "role", role, "roles", store.Roles)
	}
	return nil
}

// newPassword reads a password from standard input.
func newPassword() (string, error) {
	line, err := bufio.NewReader(os.Stdin).ReadString('\n')
	pw := strings.TrimRight(line, "\r\n")
	if len([]rune(pw)) < leastPassword {
		return "", problem.New("password", "person.short-password", "least", leastPassword)
	}
	if len(pw) > 200 {
		return "", problem.New("password", "person.long-password", "most", 200)
	}
	if err != nil && pw == "" {
		return "", err
	}
	return pw, nil
}

// place is where the database of a yard lives.
type place struct{ dir, yard string }

func (p *place) flags(f *pflag.FlagSet) {
	f.StringVar(&p.dir, "dir", ".run", "where the database lives")
	f.StringVar(&p.yard, "yard", "", "a yard beside the first, by its name")
}

// inYard does work on the yard's own database.
func (p *place) inYard(ctx context.Context, do func(url string) error) func(url string) error {
	return func(url string) error {
		at, err := yardURL(ctx, url, p.yard)
		if err != nil {
			return err
		}
		return do(at)
	}
}

// withStore opens the database for one piece of work: that of the environment,
// the private one that is being served, or the private one started for this.
func withStore(ctx context.Context, at place, do func(st *store.Store) error) error {
	return withDatabase(ctx, at, func(url string) error {
		st, err := store.Open(ctx, url)
		if err != nil {
			return err
		}
		defer st.Close()
		return do(st)
	})
}

func withDatabase(ctx context.Context, at place, do func(url string) error) error {
	do = at.inYard(ctx, do)
	if url := os.Getenv("ZANJERO_DATABASE_URL"); url != "" {
		return do(url)
	}
	if url, ok := cluster.Serving(at.dir + "/pg"); ok {
		return do(url)
	}
	c, err := cluster.Start(ctx, cluster.Options{Dir: at.dir + "/pg", Say: say})
	if err != nil {
		return err
	}
	err = do(c.URL)
	return errors.Join(err, c.Stop())
}
