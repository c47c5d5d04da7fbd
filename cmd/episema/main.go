// Command episema is the whole product: the one-shot commands, the server and the worker.
package main

import (
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"strings"

	"episema/internal/problem"
)

// usageError is a call or input that is wrong; it ends with exit status 2.
type usageError struct{ problem string }

func (e *usageError) Error() string { return e.problem }

// Mendable marks it as an error that whoever asked can mend.
func (*usageError) Mendable() {}

func usagef(f string, a ...any) error { return &usageError{fmt.Sprintf(f, a...)} }

const help = `episema selects things in pictures and recolours them.

  episema select   --photo p.jpg --picks picks.json --out mask.png
  episema recolour --photo p.jpg --mask mask.png --target '#1d6a72' [--from '#9c2a1e'] [--match x,y]
                   [--method repaint|turn-hue|two-tone|curves] [--set name=value ...] [--mend-edge] --out out.png [--report report.json]
                   [--recipe NAME|FILE|FILE#NAME: instead of target, method and set]
  episema artwork  colours --in a.svg [--families 5] [--hold '#000000' ...] --out families.json
  episema artwork  recolour --in a.svg --families families.json --out b.svg
  episema schema   picks|report|families|job
  episema serve    [--port 8427] [--host 127.0.0.1] [--data DIR] [--database URL] [--no-worker] [--open]
                   [--memory 2GB] [--disk 20GB] [--reader HOST:PORT] [--shelf URL]
  episema worker   [--data DIR] [--database URL] [--memory 2GB] [--disk 20GB]
  episema migrate  [--database URL]
  episema seed     [--data DIR] [--database URL] [--demo DIR]
  episema standin  reader [--port 8429]
  episema standin  shelf [--port 8430] [--demo DIR]
`

var commands = map[string]func(args []string, out io.Writer) error{
	"select":   selectCommand,
	"recolour": recolourCommand,
	"schema":   schemaCommand,
	"artwork":  artworkCommand,
	"serve":    serveCommand,
	"worker":   workerCommand,
	"migrate":  migrateCommand,
	"seed":     seedCommand,
	"standin":  standinCommand,
}

func main() {
	if len(os.Args) < 2 || os.Args[1] == "help" || os.Args[1] == "--help" || os.Args[1] == "-h" {
		fmt.Print(help)
		return
	}
	run, ok := commands[os.Args[1]]
	if !ok {
		fmt.Fprintf(os.Stderr, "episema: there is no command %q; episema help lists them\n", os.Args[1])
		os.Exit(2)
	}
	err := run(os.Args[2:], os.Stdout)
	if err == nil {
		return
	}
	fmt.Fprintln(os.Stderr, "episema: "+strings.ReplaceAll(err.Error(), "\n", " "))
	if problem.IsMendable(err) {
		os.Exit(2)
	}
	os.Exit(1)
}

// parse reads flags so that every mistake is one line.
func parse(fs *flag.FlagSet, args []string) error {
	fs.SetOutput(io.Discard)
	if err := fs.Parse(args); err != nil {
		if errors.Is(err, flag.ErrHelp) {
			return usagef("see episema help")
		}
		return usagef("%v; see episema help", err)
	}
	if fs.NArg() > 0 {
		return usagef("%q stands alone; values follow flags such as --photo", fs.Arg(0))
	}
	return nil
}
