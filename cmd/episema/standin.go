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

	"episema/standin/reader"
)

// readerPort is where the stand-in for a swatch reader listens unless told otherwise.
const readerPort = 8429

// standinCommand runs a stand-in for an outside device, on loopback.
func standinCommand(args []string, out io.Writer) error {
	if len(args) == 0 || args[0] != "reader" {
		return usagef("say which stand-in: episema standin reader")
	}
	fs := flag.NewFlagSet("standin reader", flag.ContinueOnError)
	port := fs.Int("port", readerPort, "")
	if err := parse(fs, args[1:]); err != nil {
		return err
	}
	if *port < 0 || *port > 65535 {
		return usagef("--port %d is no port; they run from 1 to 65535", *port)
	}
	l, err := net.Listen("tcp", net.JoinHostPort("127.0.0.1", strconv.Itoa(*port)))
	if err != nil {
		return usagef("cannot listen on port %d: %v", *port, err)
	}
	ctx, stop := interrupted()
	defer stop()
	fmt.Fprintf(out, "a swatch reader lies at %s (ctrl-C ends it)\n", l.Addr())
	return reader.New(uint64(time.Now().UnixNano())).Serve(ctx, l)
}

// serveReader runs the stand-in beside the demo.
func serveReader(ctx context.Context, l net.Listener, log *slog.Logger) {
	if err := reader.New(uint64(time.Now().UnixNano())).Serve(ctx, l); err != nil {
		log.Warn("the stand-in for a swatch reader ended", "error", err)
	}
}
