// Package reader is a stand-in for a hand-held instrument that measures the colour of a surface: it lies on one of a few swatches of
// ours, and each reading differs a little from the last. It speaks lines of text over TCP, as docs/standins.md describes.
package reader

import (
	"bufio"
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"net"
	"strconv"
	"strings"
	"sync"
	"time"

	"episema/core/colour"
)

// swatch is a surface whose reflectance is a floor and some hills and slopes over it.
type swatch struct {
	name  string
	floor float64
	parts [][3]float64 // height, middle in nm, width in nm; of a slope, which rises for good at its middle, the width is negative
}

var swatches = []swatch{
	{"Tram side, enamel of the first cars", 0.04, [][3]float64{{0.16, 500, 55}, {0.07, 450, 40}}},
	{"Conductor's scarf, faded", 0.09, [][3]float64{{0.34, 600, -18}, {0.06, 440, 40}}},
	{"Ticket paper, yellowed", 0.42, [][3]float64{{0.36, 500, -45}}},
	{"Bench, varnished", 0.05, [][3]float64{{0.22, 590, -40}}},
	{"Lamp glass, amber", 0.05, [][3]float64{{0.62, 545, -16}}},
}

// The bands of a reading.
const (
	firstNM, stepNM, bands = 400, 10, 31
)

// reflectance returns the swatch's values, without noise.
func (s swatch) reflectance() []float64 {
	out := make([]float64, bands)
	for i := range out {
		nm := float64(firstNM + stepNM*i)
		out[i] = s.floor
		for _, p := range s.parts {
			x := (nm - p[1]) / math.Abs(p[2])
			if p[2] < 0 {
				out[i] += p[0] / (1 + math.Exp(-x))
			} else {
				out[i] += p[0] * math.Exp(-x*x/2)
			}
		}
	}
	return out
}

// Swatches lists the names of what the stand-in can lie on.
func Swatches() []string {
	var names []string
	for _, s := range swatches {
		names = append(names, s.name)
	}
	return names
}

// Reader is a stand-in that is switched on.
type Reader struct {
	mu    sync.Mutex
	at    int // which swatch it lies on
	noise *rand.Rand
}

// New switches one on. Readings follow from the seed.
func New(seed uint64) *Reader { return &Reader{noise: rand.New(rand.NewPCG(seed, 28178))} }

// Serve answers whoever connects, until ctx ends.
func (r *Reader) Serve(ctx context.Context, l net.Listener) error {
	stop := context.AfterFunc(ctx, func() { l.Close() })
	defer stop()
	for {
		conn, err := l.Accept()
		if ctx.Err() != nil {
			return nil
		}
		if err != nil {
			return err
		}
		go r.talk(ctx, conn)
	}
}

// patience is how long a connection may be silent.
const patience = time.Minute

func (r *Reader) talk(ctx context.Context, conn net.Conn) {
	defer conn.Close()
	stop := context.AfterFunc(ctx, func() { conn.Close() })
	defer stop()
	in := bufio.NewScanner(conn)
	in.Buffer(nil, 256)
	for {
		_ = conn.SetDeadline(time.Now().Add(patience)) // a connection that is gone fails at the next line
		if !in.Scan() {
			return
		}
		if _, err := fmt.Fprintf(conn, "%s\r\n", strings.Join(r.answer(strings.Fields(in.Text())), "\r\n")); err != nil {
			return
		}
	}
}

// answer returns the lines that answer a command.
func (r *Reader) answer(words []string) []string {
	r.mu.Lock()
	defer r.mu.Unlock()
	command := ""
	if len(words) > 0 {
		command = strings.ToUpper(words[0])
	}
	switch {
	case command == "HELLO" && len(words) == 1:
		return []string{"READER 1 stand-in", "END"}
	case command == "LIST" && len(words) == 1:
		return append(Swatches(), "END")
	case command == "PLACE" && len(words) == 2:
		if n, err := strconv.Atoi(words[1]); err == nil && n >= 1 && n <= len(swatches) {
			r.at = n - 1
			return []string{"END"}
		}
		return []string{fmt.Sprintf("ERROR there are swatches 1 to %d", len(swatches))}
	case command == "MEASURE" && len(words) == 1:
		s := swatches[r.at].reflectance()
		all := 1 + 0.004*r.noise.NormFloat64() // how it was pressed on
		var b strings.Builder
		fmt.Fprintf(&b, "SPECTRUM %d %d", firstNM, stepNM)
		for i := range s {
			s[i] = max(0, s[i]*all+0.0008*r.noise.NormFloat64())
			fmt.Fprintf(&b, " %.4f", s[i])
		}
		l, err := colour.SpectrumLab(firstNM, stepNM, s)
		if err != nil {
			return []string{"ERROR " + err.Error()}
		}
		return []string{fmt.Sprintf("LAB %.3f %.3f %.3f", l[0], l[1], l[2]), b.String(), "END"}
	}
	return []string{"ERROR say HELLO, LIST, PLACE n or MEASURE"}
}
