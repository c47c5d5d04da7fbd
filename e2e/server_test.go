package e2e

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"episema/e2e/drive"
	"episema/internal/testdb"
)

var (
	binary   string
	seeded   string         // the folder of a server that holds the demo
	chromium *drive.Browser // what every test has a profile of its own in
)

func TestMain(m *testing.M) {
	os.Exit(func() int {
		dir, err := testdb.Dir()
		if err != nil {
			fmt.Fprintln(os.Stderr, err)
			return 1
		}
		defer os.RemoveAll(dir)
		binary = filepath.Join(dir, "episema")
		if out, err := exec.Command("go", "build", "-o", binary, "../cmd/episema").CombinedOutput(); err != nil {
			fmt.Fprintf(os.Stderr, "%s\n", out)
			return 1
		}
		seeded = filepath.Join(dir, "seeded")
		if err := seed(); err != nil {
			fmt.Fprintln(os.Stderr, err)
			return 1
		}
		if chromium, err = drive.Open(context.Background(), 1280, 800); err != nil {
			fmt.Fprintln(os.Stderr, err)
			return 1
		}
		defer chromium.Close()
		return m.Run()
	}())
}

// seed makes the folder that the tests' servers begin with: making a database and bringing the demo in takes longer than
// many a test.
func seed() error {
	s := &server{data: seeded, log: &syncBuffer{}}
	if err := s.begin(); err != nil {
		return err
	}
	if err := s.cmd.Process.Signal(os.Interrupt); err != nil {
		return err
	}
	return s.cmd.Wait()
}

// server is the real binary with a database of its own.
type server struct {
	t    *testing.T
	data string
	port int
	cmd  *exec.Cmd
	log  *syncBuffer
}

type syncBuffer struct {
	mu sync.Mutex
	b  bytes.Buffer
}

func (s *syncBuffer) Write(p []byte) (int, error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.b.Write(p)
}

func (s *syncBuffer) String() string {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.b.String()
}

func newServer(t *testing.T) *server {
	t.Helper()
	dir, err := testdb.Dir()
	require.NoError(t, err)
	s := &server{t: t, data: filepath.Join(dir, "data"), log: &syncBuffer{}}
	out, err := exec.Command("cp", "-a", "--reflink=auto", seeded, s.data).CombinedOutput()
	require.NoError(t, err, string(out))
	t.Cleanup(func() {
		s.stop()
		if t.Failed() {
			t.Log(s.log.String())
		}
		os.RemoveAll(dir)
	})
	s.start()
	return s
}

func (s *server) url() string { return fmt.Sprintf("http://127.0.0.1:%d", s.port) }

func (s *server) start() {
	s.t.Helper()
	require.NoError(s.t, s.begin())
}

// begin starts the server, on a port of its own that it keeps, and waits until it answers.
func (s *server) begin() error {
	if s.port == 0 {
		l, err := net.Listen("tcp4", "127.0.0.1:0")
		if err != nil {
			return err
		}
		s.port = l.Addr().(*net.TCPAddr).Port
		if err := l.Close(); err != nil {
			return err
		}
	}
	s.cmd = exec.Command(binary, "serve", "--data", s.data, "--port", fmt.Sprint(s.port), "--seed", "../demo")
	s.cmd.Stdout, s.cmd.Stderr = s.log, s.log
	if err := s.cmd.Start(); err != nil {
		return err
	}
	for end := time.Now().Add(90 * time.Second); time.Now().Before(end); time.Sleep(30 * time.Millisecond) {
		res, err := http.Get(s.url() + "/api/jobs")
		if err != nil {
			continue
		}
		_, err = io.Copy(io.Discard, res.Body)
		res.Body.Close()
		if err == nil && res.StatusCode == 200 {
			return nil
		}
	}
	return fmt.Errorf("the server does not come up:\n%s", s.log)
}

// kill ends the server as a power cut would; its database goes on.
func (s *server) kill() {
	require.NoError(s.t, s.cmd.Process.Kill())
	_ = s.cmd.Wait() // killed, as wanted
}

func (s *server) stop() {
	if s.cmd.ProcessState != nil {
		s.start() // so that the database it left running is stopped with it
	}
	if err := s.cmd.Process.Signal(os.Interrupt); err != nil {
		s.t.Error(err)
	}
	if err := s.cmd.Wait(); err != nil {
		s.t.Errorf("ctrl-C did not end the server cleanly: %v", err)
	}
	if _, err := os.Stat(filepath.Join(s.data, "postgres", "cluster", "postmaster.pid")); err == nil {
		s.t.Error("the database was left running")
	}
}

// databasePID reads the process of the server's database.
func (s *server) databasePID() int {
	b, err := os.ReadFile(filepath.Join(s.data, "postgres", "cluster", "postmaster.pid"))
	require.NoError(s.t, err)
	var pid int
	_, err = fmt.Sscan(strings.SplitN(string(b), "\n", 2)[0], &pid)
	require.NoError(s.t, err)
	return pid
}

func open(t *testing.T) *drive.Browser {
	t.Helper()
	b, err := chromium.Profile(1280, 800)
	require.NoError(t, err)
	t.Cleanup(b.Close)
	return b
}
