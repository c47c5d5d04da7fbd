package main

import (
	"context"
	"flag"
	"fmt"
	"io"
	"log/slog"
	"net"
	"strconv"
	"time"

	"episema/app/pictureshelf"
	"episema/standin/reader"
	"episema/standin/shelf"
)

// Where stand-ins listen unless told otherwise.
const (
	readerPort = 8429
	shelfPort  = 8430
)

// standinCommand runs a stand-in for an outside device, on loopback.
func standinCommand(args []string, out io.Writer) error {
	ports := map[string]int{"reader": readerPort, "shelf": shelfPort}
	if len(args) == 0 || ports[args[0]] == 0 {
		return usagef("say which stand-in: episema standin reader, or episema standin shelf")
	}
	fs := flag.NewFlagSet("standin "+args[0], flag.ContinueOnError)
	port := fs.Int("port", ports[args[0]], "")
	dir := new(string)
	if args[0] == "shelf" {
		dir = fs.String("demo", "demo", "")
	}
	if err := parse(fs, args[1:]); err != nil {
		return err
	}
	if *port < 0 || *port > 65535 {
		return usagef("--port %d is no port; they run from 1 to 65535", *port)
	}
	var lent *shelf.Shelf
	if args[0] == "shelf" {
		var err error
		if lent, err = shelf.Open(*dir); err != nil {
			return usagef("the shelf cannot be opened: %v; --demo names the folder that ships with the project", err)
		}
	}
	l, err := net.Listen("tcp", net.JoinHostPort("127.0.0.1", strconv.Itoa(*port)))
	if err != nil {
		return usagef("cannot listen on port %d: %v", *port, err)
	}
	ctx, stop := interrupted()
	defer stop()
	if lent != nil {
		fmt.Fprintf(out, "a picture shelf stands at http://%s (ctrl-C ends it)\n", l.Addr())
		return lent.Serve(ctx, l)
	}
	fmt.Fprintf(out, "a swatch reader lies at %s (ctrl-C ends it)\n", l.Addr())
	return reader.New(uint64(time.Now().UnixNano())).Serve(ctx, l)
}

// serveReader runs the stand-in beside the demo.
func serveReader(ctx context.Context, l net.Listener, log *slog.Logger) {
	if err := reader.New(uint64(time.Now().UnixNano())).Serve(ctx, l); err != nil {
		log.Warn("the stand-in for a swatch reader ended", "error", err)
	}
}

// shelfBeside runs the stand-in for a picture shelf beside the demo, and returns its address.
func shelfBeside(ctx context.Context, dir string, log *slog.Logger) (pictureshelf.Shelf, error) {
	lent, err := shelf.Open(dir)
	if err != nil {
		return "", err
	}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return "", fmt.Errorf("the stand-in for a picture shelf: %w", err)
	}
	go func() {
		if err := lent.Serve(ctx, l); err != nil {
			log.Warn("the stand-in for a picture shelf ended", "error", err)
		}
	}()
	return pictureshelf.Shelf("http://" + l.Addr().String()), nil
}
