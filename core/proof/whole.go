package proof

import (
	"math"
	"slices"

	"episema/core/colour"
	"episema/core/develop"
	"episema/core/raster"
)

// Whole is the verdict's evidence: the colour over the part, with the picture's shade taken out.
//
// Each pixel is compared with what its light makes of the target: the target times a light between that of the match
// point and the pixel's own, as it was in the picture, whichever the result comes nearest to. Lightness counts as far as
// no such light explains it, chroma and hue count in full.
type Whole struct {
	Median, Most float64 // CIEDE2000 over the lit tones: median and 95th percentile
	Burned       float64 // percent of the part's pixels as good as white that the picture did not have so
	Crushed      float64 // percent as good as black that it did not have so
	Tinted       float64 // percent with more than tintAllowed of chroma (CIELAB) that the target has not, for targets that are nearly neutral
	Held         float64 // percent held back, for they do not have the part's colours
}

const (
	tintAllowed  = 8.0
	tintNeutral  = 10.0 // targets of less chroma are nearly neutral
	mostAllowed  = 3.0  // the 95th percentile may be so many times the tolerance
	shareAllowed = 1.0  // percent that may burn or be crushed
	tintShare    = 5.0
	heldAllowed  = 25.0
)

// Meets says whether a part with this evidence meets a tolerance.
func (w Whole) Meets(tolerance float64) bool {
	return w.Median <= tolerance && w.Most <= mostAllowed*tolerance && w.Burned <= shareAllowed && w.Crushed <= shareAllowed && w.Tinted <= tintShare && w.Held <= heldAllowed
}

// whole measures a part in a rendering of the whole level. It counts pixels that lie wholly in the part; of a part so thin
// that none does, those of which it has most. Where nothing is left to measure it meets no tolerance.
func whole(d *develop.Developed, r *develop.Rendered, part int) (w Whole) {
	m, p := r.Masks[part], &d.Parts[part]
	if m == nil {
		return w
	}
	var all []int
	var n, held float64
	aim := d.Space.Linear(p.Aim)
	neutral := p.Aim.Chroma() < tintNeutral
	least := uint16(raster.Whole * 98 / 100)
	if most := slices.Max(m.Pix); most < least {
		least = max(1, most/2)
	}
	changed := d.ChangedMask(part, r.Before, m)
	for i, v := range m.Pix {
		if v < least {
			continue
		}
		was, now := at(r.Before, i), at(r.After, i)
		n++
		k := float64(changed.Pix[i]) / float64(v)
		held += 1 - k
		if k < 0.5 {
			continue
		}
		if lightest(now) > 0.987 && lightest(was) <= 0.987 && light(now) > light(aim)*1.02 {
			w.Burned++
		}
		if lightest(now) < 0.0002 && lightest(was) >= 0.0002 && light(now) < 0.5*light(aim) {
			w.Crushed++
		}
		if neutral && d.Space.Lab(now).Chroma() > p.Aim.Chroma()+tintAllowed {
			w.Tinted++
		}
		all = append(all, i)
	}
	if len(all) == 0 {
		return Whole{Median: 100, Most: 100, Held: 100} // no difference of real colours is larger
	}
	w.Burned, w.Crushed, w.Tinted, w.Held = 100*w.Burned/n, 100*w.Crushed/n, 100*w.Tinted/n, 100*held/n
	before := func(i int) float64 { return light(at(r.Before, i)) }
	band := raster.Between(all, before, 0.5, 0.9)
	at0 := light(p.Tone.Linear)
	diff := make([]float64, 0, len(band))
	for _, i := range band {
		now := at(r.After, i)
		k := before(i) / math.Max(at0, 1e-6) // of the pixel's light over that of the match point
		k = math.Max(math.Min(1, k), math.Min(math.Max(1, k), light(now)/math.Max(light(aim), 1e-6)))
		diff = append(diff, colour.DeltaE00(d.Space.Lab(now), d.Space.Lab(colour.RGB{aim[0] * k, aim[1] * k, aim[2] * k})))
	}
	slices.Sort(diff)
	w.Median, w.Most = diff[len(diff)/2], diff[min(len(diff)-1, len(diff)*95/100)]
	return w
}

func light(c colour.RGB) float64 { return 0.2126*c[0] + 0.7152*c[1] + 0.0722*c[2] }

func lightest(c colour.RGB) float64 { return math.Max(c[0], math.Max(c[1], c[2])) }
