package main

import (
	"bytes"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"os"
	"strings"

	"episema/core/artwork"
)

func artworkCommand(args []string, out io.Writer) error {
	if len(args) == 0 {
		return usagef("say artwork colours or artwork recolour; see episema help")
	}
	switch args[0] {
	case "colours":
		return artworkColours(args[1:])
	case "recolour":
		return artworkRecolour(args[1:], out)
	}
	return usagef("artwork has no %q; colours and recolour are", args[0])
}

// holds takes what follows --hold out of the arguments: one colour or several, each time.
func holds(args []string) (rest, hold []string) {
	for i := 0; i < len(args); i++ {
		name := strings.TrimLeft(args[i], "-")
		if v, ok := strings.CutPrefix(name, "hold="); ok && strings.HasPrefix(args[i], "-") {
			hold = append(hold, v)
			continue
		}
		if name != "hold" || !strings.HasPrefix(args[i], "-") {
			rest = append(rest, args[i])
			continue
		}
		for i+1 < len(args) && !strings.HasPrefix(args[i+1], "--") {
			i++
			hold = append(hold, args[i])
		}
	}
	return rest, hold
}

func readDrawing(path string) (*artwork.Drawing, error) {
	if path == "" {
		return nil, usagef("--in is missing; name the SVG to read")
	}
	b, err := os.ReadFile(path)
	if err != nil {
		return nil, usagef("--in %s: it cannot be read: %v", path, err)
	}
	d, err := artwork.Parse(b)
	if err != nil {
		return nil, fmt.Errorf("--in %s: %w", path, err)
	}
	return d, nil
}

func artworkColours(args []string) error {
	args, hold := holds(args)
	fs := flag.NewFlagSet("artwork colours", flag.ContinueOnError)
	in, out, n := fs.String("in", "", ""), fs.String("out", "", ""), fs.Int("families", 0, "")
	if err := parse(fs, args); err != nil {
		return err
	}
	if *out == "" {
		return usagef("--out is missing; name the file to write, such as --out families.json")
	}
	if *n < 0 || *n > artwork.MaxFamilies {
		return usagef("--families is %d; it runs from 1 to %d, or is left out to find it", *n, artwork.MaxFamilies)
	}
	d, err := readDrawing(*in)
	if err != nil {
		return err
	}
	families, err := artwork.Gather(d.Colours, *n, hold)
	if err != nil {
		return err
	}
	b, err := json.MarshalIndent(artwork.Plan{Families: families}, "", "  ")
	if err != nil {
		return err
	}
	return whole(*out, func(tmp string) error { return os.WriteFile(tmp, append(b, '\n'), 0o644) })
}

func artworkRecolour(args []string, said io.Writer) error {
	fs := flag.NewFlagSet("artwork recolour", flag.ContinueOnError)
	in, plan, out := fs.String("in", "", ""), fs.String("families", "", ""), fs.String("out", "", "")
	if err := parse(fs, args); err != nil {
		return err
	}
	if *out == "" {
		return usagef("--out is missing; name the SVG to write, such as --out b.svg")
	}
	if *plan == "" {
		return usagef("--families is missing; episema artwork colours writes such a file")
	}
	b, err := os.ReadFile(*plan)
	if err != nil {
		return usagef("--families %s: it cannot be read: %v", *plan, err)
	}
	var p artwork.Plan
	dec := json.NewDecoder(bytes.NewReader(b))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&p); err != nil {
		return usagef("--families %s: it is not what episema schema families describes: %v", *plan, err)
	}
	changes, err := p.Changes()
	if err != nil {
		return fmt.Errorf("--families %s: %w", *plan, err)
	}
	d, err := readDrawing(*in)
	if err != nil {
		return err
	}
	r := d.Recolour(changes, nil)
	if r.Changed == 0 && len(changes) > 0 {
		there := false
		for _, c := range d.Colours {
			if _, ok := changes[c.Key]; ok {
				there = true
			}
		}
		if !there {
			return usagef("none of the colours that --families changes is in %s; it was made of another drawing", *in)
		}
	}
	for _, l := range d.LeftOut {
		if _, err := fmt.Fprintln(said, "left out: "+l); err != nil {
			return err
		}
	}
	return whole(*out, func(tmp string) error { return os.WriteFile(tmp, r.Source, 0o644) })
}
