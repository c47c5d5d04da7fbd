package isolate

import (
	"crypto/sha256"
	"encoding/json"
	"math"

	"episema/core/raster"
)

// Selection is a compiled list of picks: what is slow is done, any rectangle at any level is quick.
type Selection struct {
	pyramid Pyramid
	groups  []group
}

// coverage gives the share, 0..1, of each pixel of a rectangle at a level.
type coverage interface {
	render(p Pyramid, level int, r raster.Rect) ([]float32, error)
}

type group struct {
	join  string
	cover coverage
}

// Solved keeps what sweeps were solved to, so that a change elsewhere does not solve them again.
// Implementations may forget at any time.
type Solved interface {
	Get(key [32]byte) (*Labels, bool)
	Put(key [32]byte, l *Labels)
}

// Labels is a solved sweep: 1 inside, 0 outside, at a level of the pyramid.
type Labels struct {
	Level, W, H int
	In          []uint8
}

// Compile checks the picks and solves their sweeps. files holds the masks that mask picks name, at full
// size; solved may be nil. Sweeps that add or take away and stand next to each other are solved together:
// a stroke outside tells a sweep before it where the rest is.
func Compile(p Pyramid, picks []Pick, files map[string]*raster.Mask, solved Solved) (*Selection, error) {
	if err := Validate(picks); err != nil {
		return nil, err
	}
	s := &Selection{pyramid: p}
	w, h := p.Size(0)
	var on []int
	for i := range picks {
		if !picks[i].Off {
			on = append(on, i)
		}
	}
	for n := 0; n < len(on); n++ {
		i := on[n]
		pick := picks[i]
		switch pick.Kind {
		case "brush":
			strength := 1.0
			if pick.Strength != nil {
				strength = *pick.Strength
			}
			s.groups = append(s.groups, group{pick.Join, &brush{pick.Strokes, pick.Softness, strength}})
		case "mask":
			m := files[pick.File]
			if m == nil {
				return nil, &InputError{i + 1, "the mask file \"" + pick.File + "\" is not there"}
			}
			if m.W != w || m.H != h {
				return nil, &InputError{i + 1, "the mask file \"" + pick.File + "\" has another size than the picture; save it at the picture's full size"}
			}
			s.groups = append(s.groups, group{pick.Join, &maskFile{full: m}})
		case "sweep":
			var strokes []seeded
			add := func(q Pick, inside bool) {
				for _, st := range q.Strokes {
					strokes = append(strokes, seeded{st, inside})
				}
			}
			join := pick.Join
			// A sweep that takes away, with none before it, grows by itself and is then taken away.
			add(pick, true)
			if join == "add" {
				for n+1 < len(on) && picks[on[n+1]].Kind == "sweep" && picks[on[n+1]].Join != "intersect" {
					n++
					add(picks[on[n]], picks[on[n]].Join == "add")
				}
			}
			l, err := solveSweep(p, strokes, solved)
			if err != nil {
				return nil, err
			}
			s.groups = append(s.groups, group{join, &sweep{l}})
		}
	}
	return s, nil
}

func solveSweep(p Pyramid, strokes []seeded, solved Solved) (*Labels, error) {
	var key [32]byte
	if solved != nil {
		type flat struct {
			S  Stroke
			In bool
		}
		var f []flat
		for _, s := range strokes {
			f = append(f, flat{s.Stroke, s.inside})
		}
		b, err := json.Marshal(f)
		if err != nil {
			return nil, err
		}
		key = sha256.Sum256(b)
		if l, ok := solved.Get(key); ok {
			return l, nil
		}
	}
	labels, level, err := sweepLabels(p, strokes)
	if err != nil {
		return nil, err
	}
	w, h := p.Size(level)
	l := &Labels{level, w, h, labels}
	if solved != nil {
		solved.Put(key, l)
	}
	return l, nil
}

// Empty says whether no pick takes part.
func (s *Selection) Empty() bool { return len(s.groups) == 0 }

// Render gives the mask of a rectangle at a level of the pyramid.
func (s *Selection) Render(level int, r raster.Rect) (*raster.Mask, error) {
	m := raster.NewMask(r.W(), r.H())
	if r.Empty() {
		return m, nil
	}
	total := make([]float32, len(m.Pix))
	for _, g := range s.groups {
		c, err := g.cover.render(s.pyramid, level, r)
		if err != nil {
			return nil, err
		}
		switch g.join {
		case "add":
			for i, v := range c {
				total[i] = max(total[i], v)
			}
		case "subtract":
			for i, v := range c {
				total[i] = min(total[i], 1-v)
			}
		case "intersect":
			for i, v := range c {
				total[i] = min(total[i], v)
			}
		}
	}
	for i, v := range total {
		m.Pix[i] = uint16(max(0, min(1, v))*raster.Whole + 0.5)
	}
	return m, nil
}

type brush struct {
	strokes            []Stroke
	softness, strength float64
}

func (b *brush) render(_ Pyramid, level int, r raster.Rect) ([]float32, error) {
	out := make([]float32, r.W()*r.H())
	k := 1 / float64(int(1)<<level)
	for _, st := range b.strokes {
		for n := range st.Points {
			a, c := st.Points[max(0, n-1)], st.Points[n]
			radius := st.Radius * k
			if len(st.Pressure) > 0 {
				radius *= st.Pressure[n]
			}
			ax, ay, cx, cy := a[0]*k, a[1]*k, c[0]*k, c[1]*k
			reach := radius + 1
			box := raster.Rect{X0: int(math.Floor(math.Min(ax, cx) - reach)), Y0: int(math.Floor(math.Min(ay, cy) - reach)),
				X1: int(math.Ceil(math.Max(ax, cx)+reach)) + 1, Y1: int(math.Ceil(math.Max(ay, cy)+reach)) + 1}.And(r)
			// The ramp is at least a pixel wide, so that a hard brush has an antialiased rim.
			ramp := math.Max(1, radius*b.softness)
			for y := box.Y0; y < box.Y1; y++ {
				for x := box.X0; x < box.X1; x++ {
					d := segmentDistance(float64(x)+0.5, float64(y)+0.5, ax, ay, cx, cy)
					v := (radius + 0.5 - d) / ramp
					if v <= 0 {
						continue
					}
					v = math.Min(1, v)
					if b.softness > 0 {
						v = v * v * (3 - 2*v)
					}
					i := (y-r.Y0)*r.W() + x - r.X0
					out[i] = max(out[i], float32(v*b.strength))
				}
			}
		}
	}
	return out, nil
}

type maskFile struct{ full *raster.Mask }

func (m *maskFile) render(_ Pyramid, level int, r raster.Rect) ([]float32, error) {
	out := make([]float32, r.W()*r.H())
	n := 1 << level
	if n == 1 {
		for y := r.Y0; y < r.Y1; y++ {
			row := m.full.Pix[y*m.full.W+r.X0 : y*m.full.W+r.X1]
			to := out[(y-r.Y0)*r.W() : (y-r.Y0+1)*r.W()]
			for i, v := range row {
				to[i] = float32(v) / raster.Whole
			}
		}
		return out, nil
	}
	for y := r.Y0; y < r.Y1; y++ {
		for x := r.X0; x < r.X1; x++ {
			sum, cnt := 0, 0
			for yy := y * n; yy < min((y+1)*n, m.full.H); yy++ {
				for _, v := range m.full.Pix[yy*m.full.W+min(x*n, m.full.W) : yy*m.full.W+min((x+1)*n, m.full.W)] {
					sum += int(v)
					cnt++
				}
			}
			if cnt > 0 {
				out[(y-r.Y0)*r.W()+x-r.X0] = float32(sum) / float32(cnt) / raster.Whole
			}
		}
	}
	return out, nil
}

// Pyramid gives the picture the selection was compiled for.
func (s *Selection) Pyramid() Pyramid { return s.pyramid }
