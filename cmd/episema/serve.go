package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/exec"
	"os/signal"
	"path/filepath"
	"runtime"
	"strconv"
	"strings"
	"syscall"
	"time"

	"episema/api"
	"episema/app"
	"episema/app/pictureshelf"
	"episema/app/swatchreader"
	"episema/demo"
	"episema/store"
	"episema/store/cluster"
	"episema/web"
)

// base is what every command with a database needs.
type base struct {
	data, database string
	debug          bool
	budgets        app.Budgets
}

func (b *base) flags(fs *flag.FlagSet) {
	fs.StringVar(&b.data, "data", "data", "")
	fs.StringVar(&b.database, "database", os.Getenv("EPISEMA_DATABASE"), "")
	fs.BoolVar(&b.debug, "debug", false, "")
	fs.Func("memory", "", size(&b.budgets.Memory, app.LeastMemory))
	fs.Func("disk", "", size(&b.budgets.Disk, app.LeastDisk))
}

// size reads a budget such as 2GB or 800MB, no less than least bytes.
func size(to *int64, least int64) func(string) error {
	return func(text string) error {
		units := map[string]float64{"MB": 1 << 20, "GB": 1 << 30, "TB": 1 << 40}
		for unit, k := range units {
			digits, ok := strings.CutSuffix(strings.ToUpper(text), unit)
			if !ok {
				continue
			}
			n, err := strconv.ParseFloat(strings.TrimSpace(digits), 64)
			if err != nil || !(n > 0 && n*k < 1<<53) {
				break
			}
			if *to = int64(n * k); *to < least {
				return fmt.Errorf("it is less than %d MB, with which nothing large can be worked on", least>>20)
			}
			return nil
		}
		return errors.New("it is no size such as 800MB or 20GB")
	}
}

// open starts or reaches the database and readies the application; close undoes it in order.
func (b *base) open(ctx context.Context) (s *app.Studio, closeAll func(), err error) {
	level := slog.LevelInfo
	if b.debug {
		level = slog.LevelDebug
	}
	log := slog.New(slog.NewTextHandler(os.Stderr, &slog.HandlerOptions{Level: level}))
	if err := os.MkdirAll(b.data, 0o755); err != nil {
		return nil, nil, usagef("the data folder %s cannot be made: %v", b.data, err)
	}
	var undo []func()
	closeAll = func() {
		for i := len(undo) - 1; i >= 0; i-- {
			undo[i]()
		}
	}
	defer func() {
		if err != nil {
			closeAll()
		}
	}()
	database := b.database
	if database == "" {
		c, err := cluster.Start(ctx, filepath.Join(b.data, "postgres"), log)
		var inUse *cluster.InUseError
		if errors.As(err, &inUse) {
			return nil, closeAll, usagef("%v", inUse)
		}
		if err != nil {
			return nil, closeAll, err
		}
		undo = append(undo, c.Stop)
		database = c.URL()
	}
	st, err := store.Open(ctx, database)
	if err != nil {
		return nil, closeAll, err
	}
	undo = append(undo, st.Close)
	if err := st.Migrate(ctx); err != nil {
		return nil, closeAll, fmt.Errorf("the database's schema cannot be brought up to date: %w", err)
	}
	// What a crash left half made goes; whatever is made on the way lies in the data folder too, where its budget is.
	cache := filepath.Join(b.data, "cache")
	tmp := filepath.Join(cache, "tmp")
	if err := sweep(tmp, b.database == ""); err != nil {
		return nil, closeAll, err
	}
	if tmp, err = filepath.Abs(tmp); err != nil {
		return nil, closeAll, err
	}
	if err := os.Setenv("TMPDIR", tmp); err != nil {
		return nil, closeAll, err
	}
	if s, err = app.NewStudio(st, cache, log, b.budgets); err == nil {
		undo = append(undo, s.Close)
	}
	return s, closeAll, err
}

// sweep empties the folder of temporary files: all of it where no other process can be using it, else what is a day old.
func sweep(dir string, alone bool) error {
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return err
	}
	left, err := os.ReadDir(dir)
	if err != nil {
		return err
	}
	for _, e := range left {
		if i, err := e.Info(); alone || err == nil && time.Since(i.ModTime()) > 24*time.Hour {
			if err := os.RemoveAll(filepath.Join(dir, e.Name())); err != nil {
				return err
			}
		}
	}
	return nil
}

// namesOf gives what a server that listens on an address beyond loopback is reached by: its host's name and, where it listens
// on all of them, every address of the machine.
func namesOf(ip net.IP) (names []string) {
	if name, err := os.Hostname(); err == nil {
		names = append(names, name)
	}
	if ip == nil || !ip.IsUnspecified() {
		return names
	}
	all, err := net.InterfaceAddrs()
	if err != nil {
		return names
	}
	for _, a := range all {
		if n, ok := a.(*net.IPNet); ok {
			names = append(names, n.IP.String())
		}
	}
	return names
}

// interrupted is a context that ends with ctrl-C or a request to stop.
func interrupted() (context.Context, context.CancelFunc) {
	return signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
}

// DefaultPort is where the application is found.
const DefaultPort = 8427

func serveCommand(args []string, out io.Writer) error {
	var b base
	fset := flag.NewFlagSet("serve", flag.ContinueOnError)
	b.flags(fset)
	port, host := fset.Int("port", DefaultPort, ""), fset.String("host", "127.0.0.1", "")
	readerAt, shelfAt := fset.String("reader", "", ""), fset.String("shelf", "", "")
	noWorker, seed, show := fset.Bool("no-worker", false, ""), fset.String("seed", "", ""), fset.Bool("open", false, "")
	if err := parse(fset, args); err != nil {
		return err
	}
	listener, err := listenAt(*host, *port)
	if err != nil {
		return err
	}
	defer listener.Close()
	ctx, stop := interrupted()
	defer stop()
	s, closeAll, err := b.open(ctx)
	if err != nil {
		return err
	}
	defer closeAll()
	path := "/"
	s.Reader, s.Shelf = swatchreader.Reader(*readerAt), pictureshelf.Shelf(*shelfAt)
	if *seed != "" {
		if path, err = seeded(ctx, s, *seed); err != nil {
			return err
		}
	}
	workers := deliveriesAtOnce()
	if *noWorker {
		workers = 0
	}
	queue, err := s.Queue(workers)
	if err != nil {
		return err
	}
	if workers > 0 {
		stopWork, err := s.Work(ctx, queue)
		if err != nil {
			return err
		}
		defer func() {
			end, cancel := context.WithTimeout(context.Background(), 5*time.Second)
			defer cancel()
			if err := stopWork(end); err != nil {
				s.Log.Warn("the worker did not stop in time", "error", err)
			}
		}()
	}
	go s.Revisions.Listen(ctx)
	front, err := fs.Sub(web.Dist, "dist")
	if err != nil {
		return err
	}
	server := &http.Server{Handler: (&api.Server{Studio: s, Queue: queue, Log: s.Log, Hosts: hostsOf(*host, s.Log)}).Handler(front),
		ReadHeaderTimeout: 10 * time.Second, IdleTimeout: 2 * time.Minute, BaseContext: func(net.Listener) context.Context { return ctx }}
	fmt.Fprintf(out, "Episema is at http://%s%s (ctrl-C ends it)\n", listener.Addr(), path)
	if *show {
		if err := exec.Command("xdg-open", fmt.Sprintf("http://%s%s", listener.Addr(), path)).Start(); err != nil {
			s.Log.Warn("no browser could be opened", "error", err)
		}
	}
	return serveUntil(ctx, stop, server, listener, out)
}

// listenAt listens on an address; an error says what to do about it.
func listenAt(host string, port int) (net.Listener, error) {
	if port < 0 || port > 65535 {
		return nil, usagef("--port %d is no port; they run from 1 to 65535", port)
	}
	addr := net.JoinHostPort(host, strconv.Itoa(port))
	listener, err := net.Listen("tcp", addr)
	if errors.Is(err, syscall.EADDRINUSE) {
		return nil, usagef("port %d is in use, perhaps by an Episema that is running already; end that one or choose another with --port", port)
	}
	if err != nil {
		return nil, usagef("cannot listen on %s: %v", addr, err)
	}
	return listener, nil
}

// seeded makes a demo job, with stand-ins for a reader on its desk and a shelf beside it where there are no others, and returns its page.
func seeded(ctx context.Context, s *app.Studio, seed string) (path string, err error) {
	job, err := demo.Seed(ctx, s, seed)
	if err != nil {
		return "", fmt.Errorf("the demo job: %w", err)
	}
	if s.Reader == "" {
		l, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			return "", fmt.Errorf("the stand-in for a swatch reader: %w", err)
		}
		s.Reader = swatchreader.Reader(l.Addr().String())
		go serveReader(ctx, l, s.Log)
	}
	if s.Shelf == "" {
		if s.Shelf, err = shelfBeside(ctx, seed, s.Log); err != nil {
			return "", err
		}
	}
	return "/jobs/" + job.String(), nil
}

// hostsOf lists the names under which the server answers, and warns where others than this machine can reach it.
func hostsOf(host string, log *slog.Logger) []string {
	hosts := []string{"localhost", "127.0.0.1", "::1", host}
	if ip := net.ParseIP(host); ip == nil && host != "localhost" || ip != nil && !ip.IsLoopback() {
		hosts = append(hosts, namesOf(ip)...)
		log.Warn("LISTENING BEYOND THIS MACHINE: whoever reaches this address can see and change every job; there is no log-in", "address", host)
	}
	return hosts
}

// serveUntil serves until the context ends or the server fails. Who asked for something is answered still; stop lets a second ctrl-C end it
// at once.
func serveUntil(ctx context.Context, stop func(), server *http.Server, listener net.Listener, out io.Writer) error {
	failed := make(chan error, 1)
	go func() { failed <- server.Serve(listener) }()
	var err error
	select {
	case err = <-failed:
	case <-ctx.Done():
		stop()
		fmt.Fprintln(out, "ending")
		end, cancel := context.WithTimeout(context.Background(), 10*time.Second)
		defer cancel()
		err = server.Shutdown(end)
	}
	if errors.Is(err, http.ErrServerClosed) || errors.Is(err, context.DeadlineExceeded) {
		return nil
	}
	return err
}

func workerCommand(args []string, out io.Writer) error {
	var b base
	fset := flag.NewFlagSet("worker", flag.ContinueOnError)
	b.flags(fset)
	if err := parse(fset, args); err != nil {
		return err
	}
	if b.database == "" {
		return usagef("a worker shares the work through a database; name it with --database or EPISEMA_DATABASE")
	}
	ctx, stop := interrupted()
	defer stop()
	s, closeAll, err := b.open(ctx)
	if err != nil {
		return err
	}
	defer closeAll()
	queue, err := s.Queue(deliveriesAtOnce())
	if err != nil {
		return err
	}
	stopWork, err := s.Work(ctx, queue)
	if err != nil {
		return err
	}
	fmt.Fprintln(out, "the worker waits for deliveries (ctrl-C ends it)")
	<-ctx.Done()
	end, cancel := context.WithTimeout(context.Background(), 10*time.Second)
	defer cancel()
	return stopWork(end)
}

func migrateCommand(args []string, out io.Writer) error {
	var b base
	fset := flag.NewFlagSet("migrate", flag.ContinueOnError)
	b.flags(fset)
	if err := parse(fset, args); err != nil {
		return err
	}
	ctx, stop := interrupted()
	defer stop()
	_, closeAll, err := b.open(ctx)
	if err != nil {
		return err
	}
	closeAll()
	fmt.Fprintln(out, "the database is up to date")
	return nil
}

func seedCommand(args []string, out io.Writer) error {
	var b base
	fset := flag.NewFlagSet("seed", flag.ContinueOnError)
	b.flags(fset)
	dir := fset.String("demo", "demo", "")
	if err := parse(fset, args); err != nil {
		return err
	}
	ctx, stop := interrupted()
	defer stop()
	s, closeAll, err := b.open(ctx)
	if err != nil {
		return err
	}
	defer closeAll()
	job, err := demo.Seed(ctx, s, *dir)
	if err != nil {
		return err
	}
	fmt.Fprintln(out, "the demo job is", job)
	return nil
}

// deliveriesAtOnce is how many files a process renders at a time: reading and packing keep one core each busy, so that
// one file alone leaves others idle.
func deliveriesAtOnce() int { return max(1, min(4, runtime.NumCPU())) }
