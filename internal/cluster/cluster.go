// Package cluster runs a private PostgreSQL server for one project: on
// loopback, with its own port and password, under an unprivileged account when
// it is started as root.
package cluster

import (
	"context"
	"crypto/rand"
	"encoding/hex"
	"errors"
	"fmt"
	"net"
	"net/url"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"time"
)

// Options of a cluster.
type Options struct {
	// Dir is where it lives; made if missing.
	Dir string
	// Throwaway clusters are for tests: fast, and not safe against a crash.
	Throwaway bool
	// Say is told, in a line each, what is worth knowing.
	Say func(format string, args ...any)
	// binaries is a glob for folders of server programs; empty for Debian's.
	binaries string
}

// Cluster is a running server. Its methods may be called from any goroutine.
type Cluster struct {
	// URL connects to it, for as long as it is not stopped: a server that died
	// comes up again under the same.
	URL  string
	dir  string
	bin  string
	as   *account
	lock *os.File
	o    Options
	port int
	// mu keeps starting and stopping from each other.
	mu      sync.Mutex
	stopped bool
}

const (
	role     = "zanjero"
	database = "zanjero"
)

// Start makes the cluster if it is not there, and starts it. An error is one
// line that says what is wrong and how to mend it.
func Start(ctx context.Context, o Options) (*Cluster, error) {
	if o.Say == nil {
		o.Say = func(string, ...any) {}
	}
	if o.binaries == "" {
		o.binaries = "/usr/lib/postgresql/*/bin"
	}
	dir, as, err := home(o)
	if err != nil {
		return nil, err
	}
	c := &Cluster{dir: dir, as: as, o: o}
	if err := c.takeLock(); err != nil {
		return nil, err
	}
	ok := false
	defer func() {
		if !ok {
			c.lock.Close()
		}
	}()
	if c.bin, err = c.pickBinaries(o.binaries); err != nil {
		return nil, err
	}
	if err := c.make(ctx, o); err != nil {
		return nil, err
	}
	port, running := c.running(o)
	if running {
		o.Say("found PostgreSQL still running from last time; using it")
	} else if port, err = c.launch(ctx, o, 0); err != nil {
		return nil, err
	}
	c.port = port
	if c.URL, err = address(dir, port); err != nil {
		return nil, err
	}
	ok = true
	return c, nil
}

// address is where a cluster in a folder is reached at a port.
func address(dir string, port int) (string, error) {
	password, err := os.ReadFile(filepath.Join(dir, "password"))
	if err != nil {
		return "", fmt.Errorf("the cluster's password is gone: %w; restore %s/password, or move %s away to begin anew", err, dir, dir)
	}
	u := url.URL{Scheme: "postgres", User: url.UserPassword(role, strings.TrimSpace(string(password))),
		Host: net.JoinHostPort("127.0.0.1", strconv.Itoa(port)), Path: database, RawQuery: "sslmode=disable"}
	return u.String(), nil
}

// Serving gives the address of a cluster that somebody serves just now; ok is
// false where nobody does.
func Serving(dir string) (at string, ok bool) {
	home, as, err := home(Options{Dir: dir, Say: func(string, ...any) {}})
	if err != nil {
		return "", false
	}
	c := &Cluster{dir: home, as: as}
	port, running := c.alive()
	if !running {
		return "", false
	}
	at, err = address(home, port)
	return at, err == nil
}

// Watch starts the server again whenever it dies by itself, until the context
// ends or the cluster is stopped. Whoever was connected connects anew.
func (c *Cluster) Watch(ctx context.Context) {
	tick := time.NewTicker(time.Second)
	defer tick.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
			if !c.revive(ctx) {
				return
			}
		}
	}
}

// revive starts a server that is not alive; it is false once the cluster is
// stopped.
func (c *Cluster) revive(ctx context.Context) bool {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.stopped {
		return false
	}
	if _, alive := c.alive(); alive {
		return true
	}
	c.o.Say("PostgreSQL has died; starting it again")
	if _, err := c.launch(ctx, c.o, c.port); err != nil {
		c.o.Say("%v", err)
	}
	return true
}

// Stop stops the server and waits until its files are whole.
func (c *Cluster) Stop() error {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.stopped = true
	defer c.lock.Close()
	if _, alive := c.alive(); !alive {
		return nil
	}
	out, err := c.as.command(context.Background(), c.bin+"/pg_ctl", "stop", "-D", c.data(), "-m", "fast", "-w", "-t", "120").CombinedOutput()
	if err != nil {
		return fmt.Errorf("stopping PostgreSQL: %w: %s", err, strings.TrimSpace(string(out)))
	}
	return nil
}

func (c *Cluster) data() string { return filepath.Join(c.dir, "data") }

// takeLock keeps a second server from the same cluster.
func (c *Cluster) takeLock() error {
	path := filepath.Join(c.dir, "lock")
	f, err := os.OpenFile(path, os.O_RDWR|os.O_CREATE, 0o600)
	if err != nil {
		return fmt.Errorf("cannot write in %s: %w; make it writable, or set ZANJERO_DATABASE_URL", c.dir, err)
	}
	if err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		holder, _ := os.ReadFile(path)
		f.Close()
		return fmt.Errorf("this yard is already being served by process %s; stop that one first, or set ZANJERO_DATABASE_URL", strings.TrimSpace(string(holder)))
	}
	_ = f.Truncate(0)
	_, _ = f.WriteAt([]byte(strconv.Itoa(os.Getpid())+"\n"), 0)
	c.lock = f
	return nil
}

// pickBinaries finds server programs: those of the cluster's own major version
// if it has one, else the newest.
func (c *Cluster) pickBinaries(glob string) (string, error) {
	found, _ := filepath.Glob(glob)
	found = slices.DeleteFunc(found, func(dir string) bool {
		_, err := os.Stat(dir + "/initdb")
		return err != nil
	})
	if len(found) == 0 {
		return "", errors.New("no PostgreSQL server was found; install the package postgresql (apt-get install postgresql), or set ZANJERO_DATABASE_URL")
	}
	major := func(dir string) int {
		n, _ := strconv.Atoi(filepath.Base(filepath.Dir(dir)))
		return n
	}
	slices.SortFunc(found, func(a, b string) int { return major(b) - major(a) })
	version, err := os.ReadFile(filepath.Join(c.data(), "PG_VERSION"))
	if err != nil {
		return found[0], nil
	}
	want := strings.TrimSpace(string(version))
	for _, dir := range found {
		if strconv.Itoa(major(dir)) == want {
			return dir, nil
		}
	}
	return "", fmt.Errorf("the data in %s belong to PostgreSQL %s, and version %d is installed; install postgresql-%s, or dump with it and restore",
		c.data(), want, major(found[0]), want)
}

// make runs initdb beside the place and moves the result there, so that a
// half-made cluster is never taken for a whole one.
func (c *Cluster) make(ctx context.Context, o Options) error {
	if _, err := os.Stat(c.data()); err == nil {
		if _, err := os.Stat(filepath.Join(c.data(), "PG_VERSION")); err != nil {
			return fmt.Errorf("%s is no PostgreSQL cluster (it has no PG_VERSION); move it away and start again", c.data())
		}
		return nil
	}
	half := filepath.Join(c.dir, "data.new")
	if _, err := os.Stat(half); err == nil {
		o.Say("found a half-made cluster from an interrupted start; making it anew")
		if err := os.RemoveAll(half); err != nil {
			return fmt.Errorf("cannot remove the half-made cluster: %w; remove %s by hand", err, half)
		}
	}
	secret := make([]byte, 24)
	rand.Read(secret)
	password := filepath.Join(c.dir, "password")
	if err := os.WriteFile(password, []byte(hex.EncodeToString(secret)+"\n"), 0o600); err != nil {
		return fmt.Errorf("cannot write %s: %w; make the folder writable", password, err)
	}
	if err := c.as.own(password); err != nil {
		return err
	}
	args := []string{"-D", half, "-U", role, "--pwfile", password, "--auth", "scram-sha-256", "-E", "UTF8", "--locale", "C.UTF-8"}
	if o.Throwaway {
		args = append(args, "--no-sync")
	}
	if out, err := c.as.command(ctx, c.bin+"/initdb", args...).CombinedOutput(); err != nil {
		return fmt.Errorf("initdb failed: %s; see that %s has room and can be written", lastLine(out), c.dir)
	}
	return os.Rename(half, c.data())
}

// running gives the port of a server that runs, or false. A stale pid file, left
// by a crash, is taken away.
func (c *Cluster) running(o Options) (port int, ok bool) {
	if port, ok = c.alive(); ok {
		return port, true
	}
	path := filepath.Join(c.data(), "postmaster.pid")
	if _, err := os.Stat(path); err == nil {
		o.Say("found a stale pid file from a crash; taking it away")
		os.Remove(path)
	}
	return 0, false
}

// alive gives the port of the server that the pid file names, if that is a
// server and runs. One that has died and whose end nobody has taken note of is
// still listed by the system, and does not run.
func (c *Cluster) alive() (port int, ok bool) {
	lines, err := c.pidFile()
	if err != nil {
		return 0, false
	}
	pid, _ := strconv.Atoi(lines[0])
	stat, err := os.ReadFile(fmt.Sprintf("/proc/%d/stat", pid))
	if err != nil || len(lines) < 4 {
		return 0, false
	}
	// "pid (name) state …": Z and X are of the dead.
	name, rest, found := strings.Cut(string(stat), ") ")
	if !found || !strings.Contains(name, "(postgres") || rest == "" || strings.ContainsRune("ZX", rune(rest[0])) {
		return 0, false
	}
	port, _ = strconv.Atoi(lines[3])
	return port, port > 0
}

// launch starts the server on the port it had, or on a free one, trying a few
// times in case somebody else takes the port first. What was half started when
// it gives up is stopped again.
func (c *Cluster) launch(ctx context.Context, o Options, had int) (port int, err error) {
	log := filepath.Join(c.dir, "postgresql.log")
	for range 5 {
		if port = had; port == 0 {
			if port, err = freePort(); err != nil {
				return 0, err
			}
		}
		conf := fmt.Sprintf("-p %d -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c max_connections=80", port)
		if o.Throwaway {
			conf += " -c fsync=off -c synchronous_commit=off -c full_page_writes=off"
		}
		cmd := c.as.command(ctx, c.bin+"/pg_ctl", "start", "-D", c.data(), "-l", log, "-w", "-t", "60", "-o", conf)
		// pg_ctl's child must not hold on to a pipe of ours, or we would wait for it.
		cmd.Stdout, cmd.Stderr = nil, nil
		if err = cmd.Run(); err == nil {
			err = c.makeDatabase(ctx, port)
		}
		if err == nil {
			return port, nil
		}
		// It may still be coming up, replaying what a crash left: it is not to be
		// left behind.
		if _, alive := c.alive(); alive {
			_ = c.as.command(context.WithoutCancel(ctx), c.bin+"/pg_ctl", "stop", "-D", c.data(), "-m", "fast", "-w", "-t", "120").Run()
		}
		if ctx.Err() != nil {
			return 0, ctx.Err()
		}
	}
	return 0, fmt.Errorf("PostgreSQL did not start; the reason stands at the end of %s", log)
}

func (c *Cluster) makeDatabase(ctx context.Context, port int) error {
	password, err := os.ReadFile(filepath.Join(c.dir, "password"))
	if err != nil {
		return err
	}
	psql := func(sql string) ([]byte, error) {
		cmd := c.as.command(ctx, c.bin+"/psql", "-h", "127.0.0.1", "-p", strconv.Itoa(port), "-U", role, "-d", "postgres", "-Atqc", sql)
		cmd.Env = append(cmd.Env, "PGPASSWORD="+strings.TrimSpace(string(password)))
		return cmd.CombinedOutput()
	}
	out, err := psql("SELECT 1 FROM pg_database WHERE datname = '" + database + "'")
	if err == nil && strings.TrimSpace(string(out)) == "" {
		out, err = psql("CREATE DATABASE " + database)
	}
	if err != nil {
		return fmt.Errorf("making the database failed: %s; if the password in %s was changed, put it back", lastLine(out), c.dir)
	}
	return nil
}

func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, fmt.Errorf("no port is free on loopback: %w", err)
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}

func lastLine(out []byte) string {
	lines := strings.Split(strings.TrimSpace(string(out)), "\n")
	return lines[len(lines)-1]
}

// account is who runs the server; nil for whoever runs this program.
type account struct {
	uid, gid int
	// reach: the account needs the right to pass folders that bar it.
	reach bool
}

// home makes the cluster's folder and settles who owns it. PostgreSQL refuses
// to run as root, so root hands it to nobody; where a folder above bars that
// account, it is given the right to pass, and failing that the cluster lives
// under /var/tmp.
func home(o Options) (string, *account, error) {
	dir, err := filepath.Abs(o.Dir)
	if err != nil {
		return "", nil, err
	}
	if os.Geteuid() != 0 {
		if err := os.MkdirAll(dir, 0o700); err != nil {
			return "", nil, fmt.Errorf("cannot make %s: %w; make its parent writable", dir, err)
		}
		return dir, nil, nil
	}
	u, err := user.Lookup("nobody")
	if err != nil {
		return "", nil, fmt.Errorf("there is no account nobody to run PostgreSQL as: %w; start this as an ordinary user", err)
	}
	uid, _ := strconv.Atoi(u.Uid)
	gid, _ := strconv.Atoi(u.Gid)
	fallback := filepath.Join("/var/tmp", "zanjero-"+hex.EncodeToString([]byte(dir))[max(0, 2*len(dir)-24):])
	for _, try := range []struct {
		dir   string
		reach bool
	}{{dir, false}, {dir, true}, {fallback, false}} {
		a := &account{uid, gid, try.reach}
		if os.MkdirAll(try.dir, 0o700) != nil || a.own(try.dir) != nil {
			continue
		}
		ctx, cancel := context.WithTimeout(context.Background(), 10*time.Second)
		err := a.command(ctx, "/usr/bin/stat", try.dir+"/.").Run()
		cancel()
		if err == nil {
			if try.dir != dir {
				o.Say("the account nobody cannot reach %s; the database lives in %s", dir, try.dir)
			}
			return try.dir, a, nil
		}
	}
	return "", nil, fmt.Errorf("the account nobody can reach neither %s nor %s; start this as an ordinary user, or set ZANJERO_DATABASE_URL", dir, fallback)
}

func (a *account) own(path string) error {
	if a == nil {
		return nil
	}
	if err := os.Chown(path, a.uid, a.gid); err != nil {
		return fmt.Errorf("cannot hand %s to the account nobody: %w; start this as an ordinary user", path, err)
	}
	return nil
}

// command runs a program as the account, away from the caller's folder.
func (a *account) command(ctx context.Context, name string, args ...string) *exec.Cmd {
	if a != nil {
		pre := []string{"--reuid=" + strconv.Itoa(a.uid), "--regid=" + strconv.Itoa(a.gid), "--clear-groups"}
		if a.reach {
			pre = append(pre, "--inh-caps=+dac_read_search", "--ambient-caps=+dac_read_search")
		}
		args = append(append(pre, "--", name), args...)
		name = "setpriv"
	}
	cmd := exec.CommandContext(ctx, name, args...)
	cmd.Dir = "/"
	cmd.Env = []string{"PATH=/usr/bin:/bin:/usr/sbin:/sbin", "HOME=/nonexistent", "LC_ALL=C.UTF-8"}
	// A Ctrl-C at the terminal is for us; we stop the server in order.
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true}
	return cmd
}

// pidFile gives the lines of what a running server writes of itself: its process
// first, its port fourth.
func (c *Cluster) pidFile() ([]string, error) {
	raw, err := os.ReadFile(filepath.Join(c.data(), "postmaster.pid"))
	if err != nil {
		return nil, err
	}
	var lines []string
	for line := range strings.SplitSeq(string(raw), "\n") {
		lines = append(lines, strings.TrimSpace(line))
	}
	return lines, nil
}

// PID is the process of a running server, for whoever tests what becomes of it.
func (c *Cluster) PID() (int, error) {
	lines, err := c.pidFile()
	if err != nil {
		return 0, err
	}
	return strconv.Atoi(lines[0])
}
