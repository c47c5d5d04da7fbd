package proof

import (
	"episema/core/colour"
	"episema/core/develop"
	"episema/core/raster"
)

// Ink is what inks can do of a part.
type Ink struct {
	Missed  float64    // percent of the part's pixels that the inks miss by more than colour.InkMissed
	Nearest colour.Lab // what the target becomes in ink, paper taken for white; of a part that has none, its own colour
	Beyond  float64    // CIEDE2000 from that to what the inks reach, their black taken for black
	At      *Spot      // where they miss the most; nil where they miss nothing
}

// screenCoded returns a linear colour of a space as coded sRGB, cut to its cube: what a screen shows of it.
func screenCoded(space *colour.Space, c colour.RGB) colour.RGB {
	if space != colour.SRGB {
		c = colour.RGB(colour.SRGB.FromD50.Mul(space.ToD50.Mul(c)))
	}
	for k := range c {
		c[k] = max(0, min(1, c[k]))
	}
	return colour.SRGB.Coded(c)
}

// inInk measures what inks miss of a part as it was rendered, and what they make of a colour c.
func inInk(d *develop.Developed, r *develop.Rendered, part int, c colour.Lab, inks *colour.InkTable, scale float64) *Ink {
	coded := screenCoded(colour.SRGB, colour.SRGB.Linear(c))
	q := Ink{Nearest: colour.SRGB.Lab(colour.SRGB.LinearOf(inks.See(coded, false))), Beyond: inks.Missed(coded)}
	m := r.Masks[part]
	if m == nil {
		return &q
	}
	inside, missed, most := 0, 0, float64(colour.InkMissed)
	for i, v := range m.Pix {
		if v < raster.Whole/2 {
			continue
		}
		inside++
		px := r.After.Pix[3*i : 3*i+3]
		if by := inks.Missed(screenCoded(d.Space, colour.RGB{float64(px[0]), float64(px[1]), float64(px[2])})); by > colour.InkMissed {
			missed++
			if by > most {
				most, q.At = by, &Spot{(float64(i%m.W) + 0.5) * scale, (float64(i/m.W) + 0.5) * scale}
			}
		}
	}
	if inside > 0 {
		q.Missed = 100 * float64(missed) / float64(inside)
	}
	return &q
}
