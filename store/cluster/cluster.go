// Package cluster runs a PostgreSQL cluster of the application's own, from Debian's packages, on loopback.
package cluster

import (
	"bufio"
	"context"
	"crypto/rand"
	"encoding/hex"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/url"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"sort"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"time"

	"github.com/jackc/pgx/v5"
)

// Cluster is a running PostgreSQL.
type Cluster struct {
	dir  string
	port int
	pass string
	pid  int
	log  *slog.Logger

	mu       sync.Mutex
	stopping bool
	ended    chan struct{} // closed once the process has ended
	why      error         // its end, where it was started here

	lock *os.File // of the folder
}

// Start starts the cluster in dir, making it where there is none. PostgreSQL will not run as root: root
// hands the folder to the user postgres, which Debian's package makes. A lock left by a power cut is
// cleared; a cluster that a killed server left running is taken over. A folder that another live process owns is not
// touched: that is an *InUseError.
func Start(ctx context.Context, dir string, log *slog.Logger) (*Cluster, error) {
	dir, err := filepath.Abs(dir)
	if err != nil {
		return nil, err
	}
	bin, err := binaries()
	if err != nil {
		return nil, err
	}
	who, err := owner()
	if err != nil {
		return nil, err
	}
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, err
	}
	if who != nil {
		if err := reachable(dir); err != nil {
			return nil, err
		}
		if err := os.Chown(dir, int(who.Uid), int(who.Gid)); err != nil {
			return nil, err
		}
	}
	lock, err := own(dir)
	if err != nil {
		return nil, err
	}
	c := &Cluster{dir: dir, log: log, lock: lock}
	started := false
	defer func() {
		if !started {
			lock.Close()
		}
	}()
	data := filepath.Join(dir, "cluster")
	if _, err := os.Stat(filepath.Join(data, "PG_VERSION")); err != nil {
		if err := c.create(ctx, bin, data, who); err != nil {
			return nil, err
		}
	}
	pass, err := os.ReadFile(filepath.Join(dir, "password"))
	if err != nil {
		return nil, fmt.Errorf("the cluster's password is gone from %s: %w", dir, err)
	}
	c.pass = strings.TrimSpace(string(pass))
	if pid, port, alive := running(data); alive {
		log.Info("taking over the database that was left running", "pid", pid)
		c.pid, c.port = pid, port
		c.ended = watched(pid)
	} else {
		if err := os.Remove(filepath.Join(data, "postmaster.pid")); err == nil {
			log.Info("cleared the lock of a database that is not running any more")
		}
		if c.port, err = freePort(); err != nil {
			return nil, err
		}
		if err := c.launch(bin, data, who); err != nil {
			return nil, err
		}
	}
	if err := c.await(ctx); err != nil {
		c.Stop()
		return nil, err
	}
	started = true
	go c.keepUp(bin, data, who)
	return c, nil
}

// URL is the address to connect to.
func (c *Cluster) URL() string {
	u := url.URL{Scheme: "postgres", User: url.UserPassword("episema", c.pass), Host: net.JoinHostPort("127.0.0.1", strconv.Itoa(c.port)), Path: "/postgres", RawQuery: "sslmode=disable"}
	return u.String()
}

// PID is the process of the database server.
func (c *Cluster) PID() int {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.pid
}

// Stop shuts the cluster down cleanly and waits for it.
func (c *Cluster) Stop() {
	defer c.lock.Close()
	c.mu.Lock()
	c.stopping = true
	pid, ended := c.pid, c.ended
	c.mu.Unlock()
	if pid == 0 {
		return
	}
	if err := syscall.Kill(pid, syscall.SIGINT); err != nil { // fast shutdown: connections are ended, data is flushed
		return
	}
	select {
	case <-ended:
	case <-time.After(30 * time.Second):
		c.log.Warn("the database did not stop in time", "pid", pid)
	}
}

// keepUp starts the database again when it ends without having been asked to: out of memory, killed by hand. The lock it
// left stays: by it PostgreSQL tells whether processes of the old one are at work still, and ends at once until they are gone.
func (c *Cluster) keepUp(bin, data string, who *syscall.Credential) {
	for try := 1; ; try++ {
		c.mu.Lock()
		ended := c.ended
		c.mu.Unlock()
		began := time.Now()
		<-ended
		if time.Since(began) > 10*time.Second {
			try = 1
		}
		time.Sleep(time.Duration(min(try, 50)) * 100 * time.Millisecond)
		c.mu.Lock()
		if c.stopping {
			c.mu.Unlock()
			return
		}
		c.log.Error("the database ended; it is started again", "try", try)
		if err := c.launch(bin, data, who); err != nil {
			c.log.Error("the database does not start", "error", err)
			failed := make(chan struct{})
			close(failed)
			c.ended = failed
		}
		c.mu.Unlock()
	}
}

// watched gives a channel that is closed once a process that was not started here is gone.
func watched(pid int) chan struct{} {
	ended := make(chan struct{})
	go func() {
		for syscall.Kill(pid, 0) == nil {
			time.Sleep(100 * time.Millisecond)
		}
		close(ended)
	}()
	return ended
}

func freePort() (int, error) {
	l, err := net.Listen("tcp4", "127.0.0.1:0")
	if err != nil {
		return 0, err
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}

func binaries() (string, error) {
	found, _ := filepath.Glob("/usr/lib/postgresql/*/bin/postgres") // the pattern is well formed
	if len(found) == 0 {
		return "", errors.New("PostgreSQL is not installed; run: apt-get install postgresql")
	}
	sort.Slice(found, func(a, b int) bool { return version(found[a]) > version(found[b]) })
	return filepath.Dir(found[0]), nil
}

func version(path string) int {
	n, _ := strconv.Atoi(filepath.Base(filepath.Dir(filepath.Dir(path)))) // not a number sorts last
	return n
}

// owner gives whom to run the database as; nil is whoever runs this.
func owner() (*syscall.Credential, error) {
	if os.Geteuid() != 0 {
		return nil, nil
	}
	u, err := user.Lookup("postgres")
	if err != nil {
		return nil, fmt.Errorf("started as root, the database needs the user postgres of Debian's package: %w", err)
	}
	uid, err := strconv.ParseUint(u.Uid, 10, 32)
	if err != nil {
		return nil, err
	}
	gid, err := strconv.ParseUint(u.Gid, 10, 32)
	if err != nil {
		return nil, err
	}
	return &syscall.Credential{Uid: uint32(uid), Gid: uint32(gid)}, nil
}

// reachable says which folder above dir the database's user cannot pass.
func reachable(dir string) error {
	for d := filepath.Dir(dir); d != "/"; d = filepath.Dir(d) {
		st, err := os.Stat(d)
		if err != nil {
			return err
		}
		if st.Mode().Perm()&0o001 == 0 {
			return fmt.Errorf("the database's user cannot pass %s; choose another folder with --data, such as /var/lib/episema", d)
		}
	}
	return nil
}

func (c *Cluster) create(ctx context.Context, bin, data string, who *syscall.Credential) error {
	c.log.Info("making a database cluster", "folder", data)
	var secret [24]byte
	if _, err := rand.Read(secret[:]); err != nil {
		return err
	}
	pass := filepath.Join(c.dir, "password")
	if err := os.WriteFile(pass, []byte(hex.EncodeToString(secret[:])), 0o600); err != nil {
		return err
	}
	if who != nil {
		if err := os.Chown(pass, int(who.Uid), int(who.Gid)); err != nil {
			return err
		}
	}
	// Made under another name and moved, so that a broken-off start does not leave half a cluster.
	half := data + ".making"
	if err := os.RemoveAll(half); err != nil {
		return err
	}
	cmd := exec.CommandContext(ctx, filepath.Join(bin, "initdb"), "-D", half, "-U", "episema", "--pwfile", pass, "--auth", "scram-sha-256", "-E", "UTF8", "--locale", "C.UTF-8")
	cmd.Dir = c.dir
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: who}
	if out, err := cmd.CombinedOutput(); err != nil {
		return fmt.Errorf("initdb: %w: %s", err, lastLine(string(out)))
	}
	return os.Rename(half, data)
}

func lastLine(s string) string {
	l := strings.Split(strings.TrimSpace(s), "\n")
	return l[len(l)-1]
}

// running reads the lock file and says whether its process is a live PostgreSQL of this folder.
func running(data string) (pid, port int, alive bool) {
	f, err := os.Open(filepath.Join(data, "postmaster.pid"))
	if err != nil {
		return 0, 0, false
	}
	defer f.Close()
	var lines []string
	for s := bufio.NewScanner(f); s.Scan(); {
		lines = append(lines, s.Text())
	}
	if len(lines) < 4 {
		return 0, 0, false
	}
	pid, err1 := strconv.Atoi(strings.TrimSpace(lines[0]))
	port, err2 := strconv.Atoi(strings.TrimSpace(lines[3]))
	if err1 != nil || err2 != nil || pid <= 1 {
		return 0, 0, false
	}
	comm, err := os.ReadFile(fmt.Sprintf("/proc/%d/comm", pid))
	if err != nil || strings.TrimSpace(string(comm)) != "postgres" {
		return pid, port, false
	}
	cwd, err := os.Readlink(fmt.Sprintf("/proc/%d/cwd", pid))
	return pid, port, err == nil && cwd == data
}

func (c *Cluster) launch(bin, data string, who *syscall.Credential) error {
	logFile, err := os.OpenFile(filepath.Join(c.dir, "postgres.log"), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	defer logFile.Close()
	cmd := exec.Command(filepath.Join(bin, "postgres"), "-D", data, "-p", strconv.Itoa(c.port), "-c", "listen_addresses=127.0.0.1",
		"-c", "unix_socket_directories=", "-c", "shared_buffers=128MB", "-c", "max_connections=60", "-c", "wal_compression=on")
	cmd.Dir = data
	cmd.Stdout, cmd.Stderr = logFile, logFile
	// A process group of its own: ctrl-C in the terminal stops the server, which then stops the database.
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: who, Setpgid: true}
	if err := cmd.Start(); err != nil {
		return err
	}
	ended := make(chan struct{})
	c.pid, c.ended = cmd.Process.Pid, ended
	go func() {
		c.why = cmd.Wait()
		close(ended)
	}()
	return nil
}

func (c *Cluster) await(ctx context.Context) error {
	deadline := time.Now().Add(60 * time.Second)
	for {
		conn, err := pgx.Connect(ctx, c.URL())
		if err == nil {
			return conn.Close(ctx)
		}
		select {
		case <-c.ended:
			end := c.why
			c.pid = 0
			log, _ := os.ReadFile(filepath.Join(c.dir, "postgres.log")) // only to say more
			return fmt.Errorf("the database ended at once (%w): %s", end, lastLine(string(log)))
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(100 * time.Millisecond):
		}
		if time.Now().After(deadline) {
			return fmt.Errorf("the database does not answer: %w", err)
		}
	}
}
