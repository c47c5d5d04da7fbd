package recolour

import "math"

// The loops over a run's pixels that a step of a hand goes through for all of what it changes. Each stands here; what of it can be done for
// several pixels side by side is (side_amd64.s), to the same bits.

// aside returns how many of n pixels are done side by side.
func aside(n int) int {
	if wide == 0 {
		return 0
	}
	return n &^ (wide - 1)
}

// taken is how the target takes the light and the sheen of each pixel of a run, the same for all channels.
type taken struct {
	back  [block]float32 // of what was taken for sheen, so much is the body's light
	mean  [block]float32 // of the body's light that is left then, over the channels
	gain  [block]float32 // and how much brighter that becomes
	even  [block]float32 // light of every channel alike
	own   [block]float32 // how much counts of each channel's own light
	given [block]float32 // how much of what was taken for sheen is added to that
	gloss [block]float32 // how much of the sheen stays
	shine [block]float32 // sheen of every channel alike
}

// giveBack works out what of the sheen is the body's light: dull of it where a pixel is no brighter than the light around it, less and less up to
// where it is over that by 1/steep, and nothing where there is no light around.
func (t *taken) giveBack(light, over []float32, dull, steep float32) {
	n, i := len(light), aside(len(light))
	if i > 0 {
		giveBackWide(i, &t.back[0], &light[0], &over[0], dull, steep)
	}
	back := t.back[:n]
	over = over[:n]
	for ; i < n; i++ {
		back[i] = 0
		if light[i] > 0 {
			back[i] = dull * (1 - unit(over[i]*steep))
		}
	}
}

// average works out the body's light over all channels, sheen being worth part of it, and begins with a gain of 1.
func (t *taken) average(e, h *[3][]float32, n int, part float32) {
	e0, e1, e2 := lanesOf(e, n)
	h0, h1, h2 := lanesOf(h, n)
	i := aside(n)
	if i > 0 {
		meanWide(i, t, &e0[0], &e1[0], &e2[0], &h0[0], &h1[0], &h2[0], part)
	}
	back, mean, gain := t.back[:n], t.mean[:n], t.gain[:n]
	for ; i < n; i++ {
		mean[i], gain[i] = (e0[i]+e1[i]+e2[i]+back[i]*part*(h0[i]+h1[i]+h2[i]))*(1.0/3), 1
	}
}

// sharpen begins with a gain that gives the light more contrast against that around.
func (t *taken) sharpen(light []float32, crisp float32) {
	n, i := len(light), aside(len(light))
	if i > 0 {
		crispWide(i, t, &light[0], crisp)
	}
	mean, gain := t.mean[:n], t.gain[:n]
	for ; i < n; i++ {
		gain[i] = 1
		if l := light[i]; l > 0 {
			// Raised by the square, which is the power a table would cost more for.
			q := mean[i] / l
			if q > 1.8 {
				q = 1.8
			} else if q < 0.4 {
				q = 0.4
			}
			gain[i] = 1 + crisp*(q-1)
		}
	}
}

// deepen multiplies the gain by a factor that follows from the light: one of 2*shadeSteps.
func (t *taken) deepen(n int, shade []float32) {
	i := aside(n)
	if i > 0 {
		_ = shade[2*shadeSteps-1]
		deepenWide(i, t, &shade[0])
	}
	mean, gain := t.mean[:n], t.gain[:n]
	for ; i < n; i++ {
		gain[i] *= shade[max(0, min(2*shadeSteps-1, int(gain[i]*mean[i]*shadeSteps)))]
	}
}

// weighing is what weigh goes by: how much of the light's own tint and of the sheen's is taken, how much of a body's light makes as much light as
// sheen does, and how much of the sheen stays.
type weighing struct{ tint, part, gleam, mirrored float32 }

// weigh works out how much counts of what.
func (t *taken) weigh(h *[3][]float32, n int, k *weighing) {
	h0, h1, h2 := lanesOf(h, n)
	i := aside(n)
	if i > 0 {
		weighWide(i, t, &h0[0], &h1[0], &h2[0], k)
	}
	back, mean, gain := t.back[:n], t.mean[:n], t.gain[:n]
	even, own, given, gloss, shine := t.even[:n], t.own[:n], t.given[:n], t.gloss[:n], t.shine[:n]
	for ; i < n; i++ {
		v := k.tint * gain[i]
		even[i], own[i], given[i] = (gain[i]-v)*mean[i], v, v*back[i]*k.part
		g := k.gleam * (1 - back[i])
		gloss[i], shine[i] = g*k.mirrored, g*(1-k.mirrored)*luma(h0[i], h1[i], h2[i])
	}
}

// relighting is how much light there is in the pixel's channels, in what they would have of the body's light, and in the veil.
type relighting struct {
	of, body [3]float32
	veil     float32
}

// relight adds to the light of every channel that of what neither light nor sheen explains.
func (t *taken) relight(v *view, n int, k *relighting) {
	i0, i1, i2 := lanesOf(&v.in, n)
	e0, e1, e2 := lanesOf(&v.e, n)
	h0, h1, h2 := lanesOf(&v.h, n)
	i := aside(n)
	if i > 0 {
		relightWide(i, t, &i0[0], &i1[0], &i2[0], &e0[0], &e1[0], &e2[0], &h0[0], &h1[0], &h2[0], k)
	}
	even := t.even[:n]
	for ; i < n; i++ {
		is := k.of[0]*(i0[i]-h0[i]) + k.of[1]*(i1[i]-h1[i]) + k.of[2]*(i2[i]-h2[i])
		even[i] += is - (k.body[0]*e0[i] + k.body[1]*e1[i] + k.body[2]*e2[i]) - k.veil
	}
}

// mixing is what a channel is mixed with: what light becomes, how much is left of what neither light nor sheen explains, what light was, and what
// comes on top.
type mixing struct{ goal, less, body, over float32 }

// mix puts a channel together.
func (t *taken) mix(o, in, e, h []float32, k *mixing) {
	n, i := len(o), aside(len(o))
	in, e, h = in[:n], e[:n], h[:n]
	if i > 0 {
		mixWide(i, &o[0], &in[0], &e[0], &h[0], t, k)
	}
	even, own, given, gloss, shine := t.even[:n], t.own[:n], t.given[:n], t.gloss[:n], t.shine[:n]
	for ; i < n; i++ {
		o[i] = k.goal*(even[i]+own[i]*e[i]+given[i]*h[i]) + (gloss[i]*h[i] + shine[i]) + k.less*(in[i]-k.body*e[i]-h[i]) + k.over
	}
}

// apart puts pixels, three values each, into lanes.
func (l *lanes) apart(pix []float32) {
	n := len(pix) / 3
	r, g, b := l.of(n)
	i := aside(n)
	if i > 0 {
		apartWide(i, &r[0], &g[0], &b[0], &pix[0])
	}
	for ; i < n; i++ {
		c := pix[3*i : 3*i+3 : 3*i+3]
		r[i], g[i], b[i] = c[0], c[1], c[2]
	}
}

// put adds to pixels, three values each, how far results are from what was, up to where one does not stay within 0..1 or a few before. It returns how
// many it did.
func put(dst, src, r, g, b []float32) int {
	n := len(r)
	g, b, src, dst = g[:n], b[:n], src[:3*n], dst[:3*n]
	i := aside(n)
	if i > 0 {
		if done := putWide(i, &dst[0], &src[0], &r[0], &g[0], &b[0]); done < i {
			return done
		}
	}
	for ; i < n; i++ {
		in, out := src[3*i:3*i+3:3*i+3], dst[3*i:3*i+3:3*i+3]
		x, y, z := out[0]+(r[i]-in[0]), out[1]+(g[i]-in[1]), out[2]+(b[i]-in[2])
		if x < 0 || y < 0 || z < 0 || x > 1 || y > 1 || z > 1 {
			break
		}
		out[0], out[1], out[2] = x, y, z
	}
	return i
}

// ends returns the least and the most of three lanes.
func ends(r, g, b []float32) (least, most float32) {
	n, i := len(r), aside(len(r))
	g, b = g[:n], b[:n]
	least, most = math.MaxFloat32, -math.MaxFloat32
	if i > 0 {
		least, most = endsWide(i, &r[0], &g[0], &b[0])
	}
	for ; i < n; i++ {
		x, y, z := r[i], g[i], b[i]
		least, most = min(least, x, y, z), max(most, x, y, z)
	}
	return least, most
}

// curved reads a table of filmSteps steps at the square root of a value, of which scale makes 0..1.
func curved(v float32, table *[filmSteps + 2]float32, scale float32) float32 {
	p := float32(math.Sqrt(float64(unit(v*scale)))) * filmSteps
	i := int(p)
	return table[i] + (p-float32(i))*(table[i+1]-table[i])
}

// curve takes a lane through a table.
func curve(l []float32, table *[filmSteps + 2]float32, scale float32) {
	i := aside(len(l))
	if i > 0 {
		curveWide(i, &l[0], &table[0], scale)
	}
	for ; i < len(l); i++ {
		l[i] = curved(l[i], table, scale)
	}
}

// curveWhole takes the strongest channel through a table, and the others along. Nothing is left of what has no light.
func curveWhole(r, g, b []float32, table *[filmSteps + 2]float32, scale float32) {
	n, i := len(r), aside(len(r))
	g, b = g[:n], b[:n]
	if i > 0 {
		curveWholeWide(i, &r[0], &g[0], &b[0], &table[0], scale)
	}
	for ; i < n; i++ {
		if top := max(r[i], g[i], b[i]); top > 0 {
			k := curved(top, table, scale) / top
			r[i], g[i], b[i] = above(r[i]*k), above(g[i]*k), above(b[i]*k)
		} else {
			r[i], g[i], b[i] = 0, 0, 0
		}
	}
}
