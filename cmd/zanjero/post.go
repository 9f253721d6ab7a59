package main

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"zanjero/core/problem"
	"zanjero/core/shop"
)

// poster puts what a device sends to a sheet, for a bench whose browser hears no device.
type poster struct {
	to, code string
	client   *http.Client
}

// postWaits is how long a reading may be on its way.
const postWaits = 15 * time.Second

func postCommand() *cobra.Command {
	p := poster{client: &http.Client{Timeout: postWaits}}
	cmd := &cobra.Command{Use: "device-post", Short: "Put the readings that a device sends (standard input, a line each) to the sheet of a real engine",
		Args: cobra.NoArgs, RunE: func(cmd *cobra.Command, _ []string) error {
			return p.all(cmd.Context(), cmd.InOrStdin(), cmd.ErrOrStderr())
		}}
	cmd.Flags().StringVar(&p.to, "to", "http://127.0.0.1:8080", "where the yard is")
	cmd.Flags().StringVar(&p.code, "code", "", "the code that stands on the sheet")
	return cmd
}

// all posts line by line until there are no more. A line that is not taken is told, and the
// next one goes on; it fails where none was taken.
func (p *poster) all(ctx context.Context, from io.Reader, tell io.Writer) error {
	taken := 0
	var last error
	lines := bufio.NewScanner(from)
	for lines.Scan() {
		line := strings.TrimSpace(lines.Text())
		if line == "" {
			continue
		}
		if _, bad := shop.ReadDevice(line); bad != nil {
			last = bad
		} else {
			last = p.post(ctx, line)
		}
		if last == nil {
			taken++
			continue
		}
		fmt.Fprintln(tell, line+": "+last.Error())
	}
	if err := lines.Err(); err != nil {
		return err
	}
	if taken == 0 {
		if last == nil {
			last = problem.New("", "shop.device-line")
		}
		return last
	}
	return nil
}

func (p *poster) post(ctx context.Context, line string) error {
	body, err := json.Marshal(map[string]string{"code": p.code, "line": line})
	if err != nil {
		return err
	}
	req, err := http.NewRequestWithContext(ctx, http.MethodPost, strings.TrimSuffix(p.to, "/")+"/api/device-readings", bytes.NewReader(body))
	if err != nil {
		return err
	}
	req.Header.Set("Content-Type", "application/json")
	res, err := p.client.Do(req)
	if err != nil {
		return err
	}
	defer res.Body.Close()
	if res.StatusCode == http.StatusNoContent {
		return nil
	}
	if res.StatusCode == http.StatusNotFound {
		return problem.New("code", "shop.no-sheet-with-code")
	}
	return problem.New("", "shop.not-taken", "status", res.StatusCode)
}
