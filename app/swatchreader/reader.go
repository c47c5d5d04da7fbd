// Package swatchreader talks with the swatch reader on the desk.
package swatchreader

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"math"
	"net"
	"strconv"
	"strings"
	"time"

	"episema/core/colour"
	"episema/internal/problem"
)

// The talk with a swatch reader: lines of text over TCP, as docs/standins.md describes.
const (
	patience  = 5 * time.Second
	mostLine  = 4096 // bytes of a line
	mostLines = 200  // of an answer
	readings  = 3
)

// Reading is a surface as a swatch reader measured it, several times.
type Reading struct {
	Lab    colour.Lab   // CIELAB D50, 2 degrees: the mean
	Spread float64      // the largest CIEDE2000 of a reading from it
	Each   []colour.Lab // the readings
}

// Reader is a swatch reader at an address, host:port; empty where there is none.
type Reader string

var errNone = problem.New("no swatch reader is set up; start the server with --reader and its address")

// away says that a reader did not answer as it should.
func away(why string) error {
	return problem.New("the swatch reader " + why + "; see that it is switched on and measure again. Nothing was changed")
}

// Places lists what the swatch reader says it can lie on.
func (d Reader) Places(ctx context.Context) (places []string, err error) {
	err = d.with(ctx, func(ask func(command string) ([]string, error)) error {
		places, err = ask("LIST")
		return err
	})
	return places, err
}

// Measure has the swatch reader measure what it lies on three times. place (from 1) is where it shall lie; 0 leaves it.
func (d Reader) Measure(ctx context.Context, place int) (r Reading, err error) {
	err = d.with(ctx, func(ask func(command string) ([]string, error)) error {
		if place > 0 {
			if _, err := ask(fmt.Sprintf("PLACE %d", place)); err != nil {
				return err
			}
		}
		for range readings {
			lines, err := ask("MEASURE")
			if err != nil {
				return err
			}
			l, err := readLab(lines)
			if err != nil {
				return err
			}
			r.Each = append(r.Each, l)
		}
		return nil
	})
	if err != nil {
		return Reading{}, err
	}
	for _, l := range r.Each {
		for k := range r.Lab {
			r.Lab[k] += l[k] / readings
		}
	}
	for _, l := range r.Each {
		r.Spread = max(r.Spread, colour.DeltaE00(l, r.Lab))
	}
	return r, nil
}

// readLab finds the colour in an answer to MEASURE: its Lab, or else its spectrum.
func readLab(lines []string) (colour.Lab, error) {
	for _, line := range lines {
		words := strings.Fields(line)
		if len(words) < 4 || words[0] != "LAB" && words[0] != "SPECTRUM" {
			continue
		}
		v := make([]float64, len(words)-1)
		for i, w := range words[1:] {
			var err error
			if v[i], err = strconv.ParseFloat(w, 64); err != nil || math.IsNaN(v[i]) || math.IsInf(v[i], 0) {
				return colour.Lab{}, away("sent a value that is no number")
			}
		}
		l := colour.Lab{v[0], v[1], v[2]}
		if words[0] == "SPECTRUM" {
			var err error
			if l, err = colour.SpectrumLab(v[0], v[1], v[2:]); err != nil {
				return l, away("sent a spectrum that is none")
			}
		}
		if !(l[0] >= 0 && l[0] <= 105 && math.Abs(l[1]) < 200 && math.Abs(l[2]) < 200) {
			return l, away("sent what is no colour of a surface")
		}
		l[0] = min(100, l[0])
		return l, nil
	}
	return colour.Lab{}, away("measured nothing")
}

// with talks with the reader: ask sends a command and returns the lines of its answer.
func (d Reader) with(ctx context.Context, talk func(ask func(command string) ([]string, error)) error) error {
	if d == "" {
		return errNone
	}
	ctx, cancel := context.WithTimeout(ctx, 3*patience)
	defer cancel()
	conn, err := new(net.Dialer).DialContext(ctx, "tcp", string(d))
	if err != nil {
		return away("does not answer")
	}
	defer conn.Close()
	stop := context.AfterFunc(ctx, func() { conn.Close() })
	defer stop()
	in := bufio.NewScanner(conn)
	in.Buffer(nil, mostLine)
	return talk(func(command string) ([]string, error) {
		if err := conn.SetDeadline(time.Now().Add(patience)); err != nil {
			return nil, away("hung up")
		}
		if _, err := fmt.Fprintf(conn, "%s\r\n", command); err != nil {
			return nil, away("hung up")
		}
		var lines []string
		for in.Scan() {
			line := strings.TrimSpace(in.Text())
			switch {
			case line == "END":
				return lines, nil
			case strings.HasPrefix(line, "ERROR "):
				return nil, away("says: " + strings.TrimPrefix(line, "ERROR "))
			case len(lines) == mostLines:
				return nil, away("does not come to an end")
			}
			lines = append(lines, line)
		}
		if errors.Is(in.Err(), bufio.ErrTooLong) {
			return nil, away("sent a line without end")
		}
		return nil, away("hung up in the middle of an answer")
	})
}
