package everyfield

import (
	"math"
	"reflect"

	"episema/core/artwork"
	"episema/core/copies"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/mend"
	"episema/core/pattern"
	"episema/core/raster"
	"episema/core/recolour"
)

// Move is a field of the model set in a document that is valid before and after.
type Move struct {
	Field string // "Type.Field"; strokes say of which package they are: "mend.Stroke.Strength"
	From  func() document.Picture
	Set   func(p *document.Picture)
	// Still says why no pixel follows from the field; empty where one must.
	Still string
	// Drawn says that it is of a drawing's families, so that Drawing follows from it and not Scene.
	Drawn bool
}

// Before gives the document without the field.
func (m Move) Before() document.Picture {
	return copied(reflect.ValueOf(m.From())).Interface().(document.Picture)
}

// After gives the document in which the field was set.
func (m Move) After() document.Picture {
	p := m.Before()
	m.Set(&p)
	return p
}

// copied copies all of a value: many documents are made of the same picks.
func copied(v reflect.Value) reflect.Value {
	out := reflect.New(v.Type()).Elem()
	out.Set(v)
	switch v.Kind() {
	case reflect.Pointer:
		if !v.IsNil() {
			out.Set(reflect.New(v.Type().Elem()))
			out.Elem().Set(copied(v.Elem()))
		}
	case reflect.Slice:
		if !v.IsNil() {
			out.Set(reflect.MakeSlice(v.Type(), v.Len(), v.Len()))
			for i := range v.Len() {
				out.Index(i).Set(copied(v.Index(i)))
			}
		}
	case reflect.Struct:
		for i := range v.NumField() {
			out.Field(i).Set(copied(v.Field(i)))
		}
	}
	return out
}

const (
	teal = "#1d6a72"
	sand = "#d8c8a0"
)

func ring(cx, cy, r float64) []isolate.Node {
	var out []isolate.Node
	for i := range 40 {
		a := 2 * math.Pi * float64(i) / 40
		out = append(out, isolate.Node{P: [2]float64{cx + r*math.Cos(a), cy + r*math.Sin(a)}})
	}
	return out
}

func part(id, css string, picks ...isolate.Pick) document.Part {
	return document.Part{ID: id, Name: "The " + id, Picks: picks, Target: document.Target{CSS: css}, Settings: recolour.Defaults()}
}

func one(k isolate.Pick) func() document.Picture {
	return func() document.Picture { return document.Picture{Parts: []document.Part{part("disc", teal, k)}} }
}

var (
	bigRing = isolate.Pick{Kind: "outline", Join: "add", Nodes: ring(130, 120, 55)}
	big     = one(bigRing)
	brushed = one(isolate.Pick{Kind: "brush", Join: "add", Strokes: stroke(20, 90, 120, 170, 120)})
	square  = one(isolate.Pick{Kind: "outline", Join: "add", Nodes: []isolate.Node{{P: [2]float64{80, 70}}, {P: [2]float64{180, 70}}, {P: [2]float64{180, 170}}, {P: [2]float64{80, 170}}}})
	swept   = one(isolate.Pick{Kind: "sweep", Join: "add", Strokes: stroke(6, 110, 110, 150, 115)})
	alike   = one(isolate.Pick{Kind: "like", Join: "add", Samples: [][2]float64{{100, 110}}, Tolerance: 12, Light: 12})
	marked  = one(isolate.Pick{Kind: "marks", Join: "add", Ring: [][2]float64{{40, 30}, {290, 30}, {290, 200}, {40, 200}}, Inside: stroke(8, 100, 110, 160, 115)})
	byDepth = one(isolate.Pick{Kind: "depth", Join: "add", From: 0.3, To: 0.6, Soft: 0.05})
	subject = one(isolate.Pick{Kind: "subject", Join: "add"})
	edged   = func(e isolate.Edge) func() document.Picture {
		return setting(alike, func(q *document.Part) { q.Edge = &e })
	}
	turned   = method("turn-hue", func(s *recolour.Settings) { s.Turn = &recolour.Turn{} })
	toned    = method("two-tone", func(s *recolour.Settings) { s.TwoTone = &recolour.TwoTone{Middle: 50} })
	curved   = method("curves", func(s *recolour.Settings) { s.Curves = &recolour.Curves{} })
	finished = method("", func(s *recolour.Settings) { s.Finish = recolour.NewFinish() })
	rebuilt  = setting(big, func(q *document.Part) {
		q.Settings.Rebuild = recolour.NewRebuild()
		for i, n := range q.Picks[0].Nodes { // its red half alone
			q.Picks[0].Nodes[i].P[1] = min(n.P[1], 128)
		}
	})
	casting  = setting(big, func(q *document.Part) { q.Cast = &mend.Cast{Amount: 100, Reach: 40} })
	twoParts = func() document.Picture {
		return document.Picture{Parts: []document.Part{part("disc", teal, bigRing), part("half", sand, isolate.Pick{Kind: "outline", Join: "add", Nodes: ring(160, 120, 50)})}}
	}
	mended = func() document.Picture {
		p := big()
		p.Mends = []document.Mend{{Kind: "brush", Strokes: []mend.Stroke{{Stroke: raster.Stroke{Radius: 8, Points: [][2]float64{{60, 120}, {80, 122}, {95, 125}}}, Strength: 1}}}}
		return p
	}
	neutral = setting(big, func(q *document.Part) { q.Target.Neutral = true })
	carded  = func() document.Picture {
		p := neutral()
		p.Grey = &document.Grey{At: [2]float64{250, 200}, Lightness: 60}
		return p
	}
	doubled = func() document.Picture {
		p := big()
		p.Parts = append(p.Parts, part("double", sand))
		p.Parts[1].Copy = &copies.Copy{Of: "disc", About: [2]float64{130, 120}, At: [2]float64{230, 130}, Scale: 0.5}
		return p
	}
	// Not painted over, so that the light on it is seen; of what is not the same on the left and on the right.
	bareCopy = func() document.Picture {
		p := doubled()
		p.Parts[1].Target = document.Target{}
		return p
	}
	shadowed = func() document.Picture {
		p := doubled()
		p.Parts[1].Copy.Shadow = &copies.Shadow{Direction: 20, Length: 0.6, Softness: 12, Strength: 80}
		return p
	}
	cornered = func() document.Picture {
		p := patterned()
		p.Parts[0].Pattern.Lay.Tile, p.Parts[0].Pattern.Lay.Size = "checks", 150
		p.Parts[0].Pattern.Lay.Corners = &[4][2]float64{{80, 70}, {190, 60}, {180, 180}, {70, 150}}
		return p
	}
	pushed = func(radius float64) []pattern.Push {
		return []pattern.Push{{Radius: radius, Points: [][2]float64{{120, 100}, {140, 110}}}}
	}
	patterned = func() document.Picture {
		p := big()
		p.Parts[0].Pattern = &document.Pattern{Lay: pattern.Pattern{Tile: "stripes", Share: 40, Size: 22, Strength: 100}, Colours: []document.Target{{CSS: sand}, {CSS: "#9c2a1e"}}}
		return p
	}
	patched = func() document.Picture {
		p := big()
		p.Mends = []document.Mend{{Kind: "patch", Patch: &mend.Patch{Shift: [2]float64{70, 20}, Feather: 3,
			Nodes: []isolate.Node{{P: [2]float64{100, 90}}, {P: [2]float64{150, 95}}, {P: [2]float64{140, 140}}, {P: [2]float64{95, 130}}}}}}
		return p
	}
	rimMended = func() document.Picture {
		p := one(isolate.Pick{Kind: "outline", Join: "add", Nodes: ring(130, 120, 52)})() // its rim of the old colour is left over
		p.Mends = []document.Mend{{Kind: "edge", Part: "disc"}}
		return p
	}
	families = func() document.Picture {
		f := document.Part{ID: "reds", Name: "Reds", Target: document.Target{CSS: teal}, Settings: recolour.Defaults(),
			Family: &document.Family{Main: "#c83232", Members: []artwork.Member{{Colour: "#c83232"}, {Colour: "#e07070"}}}}
		return document.Picture{Parts: []document.Part{f}}
	}
)

func stroke(radius float64, xy ...float64) []isolate.Stroke {
	s := isolate.Stroke{Stroke: raster.Stroke{Radius: radius}}
	for i := 0; i < len(xy); i += 2 {
		s.Points = append(s.Points, [2]float64{xy[i], xy[i+1]})
	}
	return []isolate.Stroke{s}
}

func setting(from func() document.Picture, set func(q *document.Part)) func() document.Picture {
	return func() document.Picture {
		p := from()
		p = copied(reflect.ValueOf(p)).Interface().(document.Picture)
		set(&p.Parts[0])
		return p
	}
}

func method(name string, set func(s *recolour.Settings)) func() document.Picture {
	return setting(big, func(q *document.Part) {
		q.Settings.Method = name
		set(&q.Settings)
	})
}

func ptr[T any](v T) *T { return &v }

// Moves lists a move for every field. stored names the mask file.
func Moves(stored string) []Move {
	pick := func(field string, from func() document.Picture, set func(k *isolate.Pick)) Move {
		return Move{Field: field, From: from, Set: func(p *document.Picture) {
			set(&p.Parts[0].Picks[0])
		}}
	}
	with := func(field string, from func() document.Picture, set func(q *document.Part)) Move {
		return Move{Field: field, From: from, Set: func(p *document.Picture) { set(&p.Parts[0]) }}
	}
	still := func(m Move, why string) Move {
		m.Still = why
		return m
	}
	family := func(field string, set func(q *document.Part, f *document.Family)) Move {
		return Move{Field: field, From: families, Drawn: true, Set: func(p *document.Picture) { set(&p.Parts[0], p.Parts[0].Family) }}
	}
	finish := func(field string, set func(f *recolour.Finish)) Move {
		return with("Finish."+field, finished, func(q *document.Part) { set(q.Settings.Finish) })
	}
	brush := func(field string, set func(s *mend.Stroke)) Move {
		return Move{Field: "mend.Stroke." + field, From: mended, Set: func(p *document.Picture) { set(&p.Mends[0].Strokes[0]) }}
	}
	rebuildStroke := func(q *document.Part) *recolour.Rebuild {
		q.Settings.Rebuild.Away = []raster.Stroke{{Radius: 6, Points: [][2]float64{{122, 94}, {124, 98}}}}
		return q.Settings.Rebuild
	}
	bend := [][2]float64{{0, 0}, {0.4, 0.6}, {1, 1}}
	kind := func(from func() document.Picture, k isolate.Pick) Move {
		return Move{Field: "Pick.Kind", From: from, Set: func(p *document.Picture) { p.Parts[0].Picks = []isolate.Pick{k} }}
	}
	return []Move{
		{Field: "Picture.Parts", From: big, Set: func(p *document.Picture) { p.Parts = nil }},
		{Field: "Picture.Mends", From: mended, Set: func(p *document.Picture) { p.Mends = nil }},

		still(with("Part.ID", big, func(q *document.Part) { q.ID = "another" }), "other parts and mends know the part by it"),
		still(with("Part.Name", big, func(q *document.Part) { q.Name = "Größe/~1 \"x\"" }), "it names the row of the colourways"),
		still(with("Part.Unnamed", big, func(q *document.Part) { q.Unnamed = true }), "it chooses the row of the colourways"),
		with("Part.Hidden", big, func(q *document.Part) { q.Hidden = true }),
		with("Part.Picks", big, func(q *document.Part) { q.Picks = nil }),
		with("Part.Edge", big, func(q *document.Part) { q.Edge = &isolate.Edge{Grow: 4} }),
		{Field: "Part.Within", From: twoParts, Set: func(p *document.Picture) { p.Parts[1].Within = "disc" }},
		{Field: "Part.Overlap", From: twoParts, Set: func(p *document.Picture) { p.Parts[0].Overlap = true }},
		with("Part.Target", big, func(q *document.Part) { q.Target = document.Target{} }),
		with("Part.Own", big, func(q *document.Part) { q.Own = "#ff6040" }),
		with("Part.Match", big, func(q *document.Part) { q.Match = &[2]float64{85, 120} }),
		with("Part.Settings", big, func(q *document.Part) { q.Settings.Strength = 0 }),
		family("Part.Family", func(q *document.Part, f *document.Family) {
			q.Family = &document.Family{Main: "#2244aa", Members: []artwork.Member{{Colour: "#2244aa"}}}
		}),
		with("Part.Cast", casting, func(q *document.Part) { q.Cast = nil }),

		with("Target.CSS", big, func(q *document.Part) { q.Target.CSS = "lab(50% 20 -40)" }),
		still(with("Target.PaletteID", big, func(q *document.Part) { q.Target.PaletteID = "harbour" }), "it says where the colour came from"),
		still(with("Target.Tolerance", big, func(q *document.Part) { q.Target.Tolerance = 1.5 }), "the proof is held to it"),
		with("Target.Neutral", big, func(q *document.Part) { q.Target.Neutral = true }),

		kind(big, isolate.Pick{Kind: "tones", Join: "add", From: 10, To: 40, Soft: 4}),
		kind(big, isolate.Pick{Kind: "hues", Join: "add", From: 10, To: 40, Soft: 4}),
		kind(big, isolate.Pick{Kind: "subject", Join: "add"}),
		{Field: "Pick.Join", From: big, Set: func(p *document.Picture) {
			p.Parts[0].Picks = []isolate.Pick{p.Parts[0].Picks[0], {Kind: "outline", Join: "subtract", Nodes: ring(150, 120, 30)}}
		}},
		pick("Pick.Off", big, func(k *isolate.Pick) { k.Off = true }),
		pick("Pick.Strokes", brushed, func(k *isolate.Pick) { k.Strokes = stroke(20, 90, 120, 150, 150) }),
		pick("Pick.Softness", brushed, func(k *isolate.Pick) { k.Softness = 0.7 }),
		pick("Pick.Strength", brushed, func(k *isolate.Pick) { k.Strength = ptr(0.5) }),
		pick("Pick.Flow", brushed, func(k *isolate.Pick) { k.Flow = ptr(0.4) }),
		pick("Pick.Limit", one(isolate.Pick{Kind: "brush", Join: "add", Strokes: stroke(20, 130, 70, 150, 66)}), func(k *isolate.Pick) { k.Limit = true }),
		pick("Pick.Reach", swept, func(k *isolate.Pick) { k.Reach = ptr(0.0) }),
		pick("Pick.Candidate", subject, func(k *isolate.Pick) { k.Candidate = 1 }),
		pick("Pick.Samples", alike, func(k *isolate.Pick) { k.Samples = [][2]float64{{110, 150}} }),
		pick("Pick.Boxes", alike, func(k *isolate.Pick) { k.Boxes = [][4]float64{{100, 140, 130, 150}} }),
		pick("Pick.Not", setting(alike, func(q *document.Part) { q.Picks[0].Tolerance = 30 }), func(k *isolate.Pick) { k.Not = [][2]float64{{110, 150}} }),
		pick("Pick.Colours", alike, func(k *isolate.Pick) { k.Colours = [][3]float64{{62, 0, 0}} }),
		pick("Pick.NotLike", setting(alike, func(q *document.Part) { q.Picks[0].Tolerance = 30 }), func(k *isolate.Pick) { k.NotLike = [][3]float64{{45, 40, 45}} }),
		pick("Pick.Tolerance", alike, func(k *isolate.Pick) { k.Tolerance = 3 }),
		pick("Pick.Light", setting(alike, func(q *document.Part) { q.Picks[0].Tolerance, q.Picks[0].Light = 4, 1 }), func(k *isolate.Pick) { k.Light = 40 }),
		pick("Pick.Connected", alike, func(k *isolate.Pick) { k.Connected = true }),
		pick("Pick.Nodes", big, func(k *isolate.Pick) { k.Nodes = ring(130, 120, 40) }),
		pick("Pick.Snap", one(isolate.Pick{Kind: "outline", Join: "add", Nodes: ring(130, 120, 58)}), func(k *isolate.Pick) { k.Snap = true }),
		pick("Pick.Ring", marked, func(k *isolate.Pick) { k.Ring = [][2]float64{{40, 30}, {160, 30}, {160, 200}, {40, 200}} }),
		pick("Pick.Inside", marked, func(k *isolate.Pick) {
			k.Inside = append(stroke(8, 100, 110, 160, 115), stroke(8, 240, 60, 250, 60)...)
		}),
		pick("Pick.Outside", marked, func(k *isolate.Pick) { k.Outside = stroke(8, 240, 60, 250, 60) }),
		pick("Pick.From", byDepth, func(k *isolate.Pick) { k.From = 0.4 }),
		pick("Pick.To", byDepth, func(k *isolate.Pick) { k.To = 0.5 }),
		pick("Pick.Soft", byDepth, func(k *isolate.Pick) { k.Soft = 0.2 }),
		pick("Pick.File", big, func(k *isolate.Pick) { *k = isolate.Pick{Kind: "mask", Join: "add", File: stored} }),
		{Field: "Pick.Part", From: twoParts, Set: func(p *document.Picture) {
			p.Parts[1].Picks = append(p.Parts[1].Picks, isolate.Pick{Kind: "part", Join: "subtract", Part: "disc"})
			p.Parts[0].Overlap = true
		}},

		pick("isolate.Stroke.Stroke.Radius", brushed, func(k *isolate.Pick) { k.Strokes[0].Radius = 10 }),
		pick("isolate.Stroke.Stroke.Points", brushed, func(k *isolate.Pick) { k.Strokes[0].Points[0] = [2]float64{60, 60} }),
		pick("isolate.Stroke.Pressure", brushed, func(k *isolate.Pick) { k.Strokes[0].Pressure = []float64{1, 0.4} }),
		pick("Node.P", square, func(k *isolate.Pick) { k.Nodes[0].P = [2]float64{60, 90} }),
		pick("Node.In", square, func(k *isolate.Pick) { k.Nodes[0].In = &[2]float64{50, 120} }),
		pick("Node.Out", square, func(k *isolate.Pick) { k.Nodes[0].Out = &[2]float64{120, 30} }),

		with("Edge.Feather", edged(isolate.Edge{}), func(q *document.Part) { q.Edge.Feather = 5 }),
		with("Edge.Grow", edged(isolate.Edge{}), func(q *document.Part) { q.Edge.Grow = -3 }),
		with("Edge.Smooth", edged(isolate.Edge{}), func(q *document.Part) { q.Edge.Smooth = 4 }),
		with("Edge.Tidy", edged(isolate.Edge{Grow: 2}), func(q *document.Part) { q.Edge.Tidy = 4 }),
		with("Edge.DropSpecksUnder", edged(isolate.Edge{}), func(q *document.Part) { q.Edge.DropSpecksUnder = 80 }),
		with("Edge.FillHolesUnder", edged(isolate.Edge{}), func(q *document.Part) { q.Edge.FillHolesUnder = 120 }),
		with("Edge.DropAt", edged(isolate.Edge{}), func(q *document.Part) { q.Edge.DropAt = [][2]float64{{245, 60}} }),
		with("Edge.FillAt", edged(isolate.Edge{}), func(q *document.Part) { q.Edge.FillAt = [][2]float64{{150, 100}} }),

		with("Settings.Method", big, func(q *document.Part) { q.Settings.Method = "turn-hue" }),
		with("Settings.Turn", turned, func(q *document.Part) { q.Settings.Turn = &recolour.Turn{Hue: 40} }),
		with("Settings.TwoTone", toned, func(q *document.Part) { q.Settings.TwoTone = &recolour.TwoTone{Middle: 80} }),
		with("Settings.Curves", curved, func(q *document.Part) { q.Settings.Curves = &recolour.Curves{All: bend} }),
		with("Settings.Finish", big, func(q *document.Part) {
			q.Settings.Finish = recolour.NewFinish()
			q.Settings.Finish.Exposure = 1
		}),
		with("Settings.ShadeDepth", big, func(q *document.Part) { q.Settings.ShadeDepth = 50 }),
		with("Settings.Highlights", big, func(q *document.Part) { q.Settings.Highlights = 20 }),
		with("Settings.Strength", big, func(q *document.Part) { q.Settings.Strength = 50 }),
		with("Settings.Rebuild", rebuilt, func(q *document.Part) { q.Settings.Rebuild = nil }),
		with("Settings.OnlyOwn", square, func(q *document.Part) { q.Settings.OnlyOwn = 0 }),
		with("Settings.Even", big, func(q *document.Part) { q.Settings.Even = 100 }),
		with("Settings.Inner", big, func(q *document.Part) { q.Settings.Inner = recolour.InnerFlat }),

		with("Turn.Hue", turned, func(q *document.Part) { q.Settings.Turn.Hue = 30 }),
		with("Turn.Saturation", turned, func(q *document.Part) { q.Settings.Turn.Saturation = -40 }),
		with("Turn.Lightness", turned, func(q *document.Part) { q.Settings.Turn.Lightness = 20 }),
		with("TwoTone.Dark", toned, func(q *document.Part) { q.Settings.TwoTone.Dark = "#300030" }),
		with("TwoTone.Middle", toned, func(q *document.Part) { q.Settings.TwoTone.Middle = 70 }),
		with("Curves.All", curved, func(q *document.Part) { q.Settings.Curves.All = bend }),
		with("Curves.Red", curved, func(q *document.Part) { q.Settings.Curves.Red = bend }),
		with("Curves.Green", curved, func(q *document.Part) { q.Settings.Curves.Green = bend }),
		with("Curves.Blue", curved, func(q *document.Part) { q.Settings.Curves.Blue = bend }),
		with("Curves.Free", setting(curved, func(q *document.Part) { q.Settings.Curves.All = [][2]float64{{0, 0.2}, {1, 0.9}} }), func(q *document.Part) { q.Settings.Curves.Free = true }),
		finish("Black", func(f *recolour.Finish) { f.Black = 20 }),
		finish("Middle", func(f *recolour.Finish) { f.Middle = 1.5 }),
		finish("White", func(f *recolour.Finish) { f.White = 200 }),
		finish("OutBlack", func(f *recolour.Finish) { f.OutBlack = 30 }),
		finish("OutWhite", func(f *recolour.Finish) { f.OutWhite = 200 }),
		finish("Exposure", func(f *recolour.Finish) { f.Exposure = 0.5 }),
		finish("Highlights", func(f *recolour.Finish) { f.Highlights = -60 }),
		finish("Shadows", func(f *recolour.Finish) { f.Shadows = 60 }),
		finish("Saturation", func(f *recolour.Finish) { f.Saturation = -50 }),
		finish("Vibrance", func(f *recolour.Finish) { f.Vibrance = 50 }),
		finish("Blend", func(f *recolour.Finish) { f.Blend = "multiply" }),
		with("Rebuild.Amount", rebuilt, func(q *document.Part) { q.Settings.Rebuild.Amount = 40 }),
		with("Rebuild.Light", setting(rebuilt, func(q *document.Part) { q.Settings.Rebuild.Slope = 60 }), func(q *document.Part) { q.Settings.Rebuild.Light = 200 }),
		with("Rebuild.Slope", rebuilt, func(q *document.Part) { q.Settings.Rebuild.Slope = 90 }),
		still(with("Rebuild.Grain", rebuilt, func(q *document.Part) { q.Settings.Rebuild.Grain = 200 }),
			"grain is taken from a place of 80 pixels, which the discs do not have; TestWhatTheLightBurnedOutIsRebuilt has"),
		with("Rebuild.Away", rebuilt, func(q *document.Part) { rebuildStroke(q) }),
		with("raster.Stroke.Radius", setting(rebuilt, func(q *document.Part) { rebuildStroke(q) }), func(q *document.Part) { q.Settings.Rebuild.Away[0].Radius = 15 }),
		with("raster.Stroke.Points", setting(rebuilt, func(q *document.Part) { rebuildStroke(q) }), func(q *document.Part) { q.Settings.Rebuild.Away[0].Points[1] = [2]float64{112, 90} }),
		with("Cast.Amount", casting, func(q *document.Part) { q.Cast.Amount = 30 }),
		with("Cast.Reach", casting, func(q *document.Part) { q.Cast.Reach = 12 }),
		with("Cast.Neutral", casting, func(q *document.Part) { q.Cast.Neutral = true }),

		{Field: "Mend.Kind", From: mended, Set: func(p *document.Picture) { p.Mends[0] = document.Mend{Kind: "edge", Part: "disc"} }},
		{Field: "Mend.Off", From: mended, Set: func(p *document.Picture) { p.Mends[0].Off = true }},
		{Field: "Mend.Part", From: func() document.Picture {
			p := rimMended()
			p.Parts = append(p.Parts, part("other", sand, isolate.Pick{Kind: "outline", Join: "add", Nodes: ring(245, 60, 24)}))
			return p
		}, Set: func(p *document.Picture) { p.Mends[0].Part = "other" }},
		{Field: "Mend.Box", From: rimMended, Set: func(p *document.Picture) { p.Mends[0].Box = &[4]float64{60, 60, 100, 200} }},
		{Field: "Picture.Grey", From: neutral, Set: func(p *document.Picture) { p.Grey = &document.Grey{At: [2]float64{250, 200}} }},
		{Field: "Grey.At", From: carded, Set: func(p *document.Picture) { p.Grey.At = [2]float64{100, 110} }},
		{Field: "Grey.Lightness", From: carded, Set: func(p *document.Picture) { p.Grey.Lightness = 30 }},
		{Field: "Part.Copy", From: doubled, Set: func(p *document.Picture) { p.Parts[1].Copy = nil }},
		{Field: "Copy.Of", From: func() document.Picture {
			p := doubled()
			p.Parts = append(p.Parts, part("other", sand, isolate.Pick{Kind: "outline", Join: "add", Nodes: ring(110, 100, 20)}))
			p.Parts[2].Overlap = true
			return p
		}, Set: func(p *document.Picture) { p.Parts[1].Copy.Of = "other" }},
		{Field: "Copy.Cut", From: doubled, Set: func(p *document.Picture) {
			p.Parts[1].Copy.Of, p.Parts[1].Copy.Cut = "", &copies.Cut{File: stored, Size: [2]int{W, H / 4}}
		}},
		{Field: "Cut.File", From: doubled, Set: func(p *document.Picture) {
			p.Parts[1].Copy.Of, p.Parts[1].Copy.Cut = "", &copies.Cut{File: stored, Size: [2]int{W, H / 4}}
		}},
		{Field: "Cut.Size", From: doubled, Set: func(p *document.Picture) {
			p.Parts[1].Copy.Of, p.Parts[1].Copy.Cut = "", &copies.Cut{File: stored, Size: [2]int{W, H / 4}}
		}},
		{Field: "Cut.Credit", From: func() document.Picture {
			p := doubled()
			p.Parts[1].Copy.Of, p.Parts[1].Copy.Cut = "", &copies.Cut{File: stored, Size: [2]int{W, H / 4}}
			return p
		}, Set: func(p *document.Picture) { p.Parts[1].Copy.Cut.Credit = "A. Maker" }, Still: "a credit is not seen in pixels"},
		{Field: "Copy.About", From: doubled, Set: func(p *document.Picture) { p.Parts[1].Copy.About = [2]float64{120, 100} }},
		{Field: "Copy.At", From: doubled, Set: func(p *document.Picture) { p.Parts[1].Copy.At = [2]float64{240, 150} }},
		{Field: "Copy.Turn", From: bareCopy, Set: func(p *document.Picture) { p.Parts[1].Copy.Turn = 80 }},
		{Field: "Copy.Scale", From: doubled, Set: func(p *document.Picture) { p.Parts[1].Copy.Scale = 0.3 }},
		{Field: "Copy.Flip", From: bareCopy, Set: func(p *document.Picture) { p.Parts[1].Copy.Flip = true }},
		{Field: "Copy.Relit", From: bareCopy, Set: func(p *document.Picture) { p.Parts[1].Copy.Relit = true }},
		{Field: "Copy.Shadow", From: shadowed, Set: func(p *document.Picture) { p.Parts[1].Copy.Shadow = nil }},
		{Field: "Shadow.Direction", From: shadowed, Set: func(p *document.Picture) { p.Parts[1].Copy.Shadow.Direction = 160 }},
		{Field: "Shadow.Length", From: shadowed, Set: func(p *document.Picture) { p.Parts[1].Copy.Shadow.Length = 1.4 }},
		{Field: "Shadow.Softness", From: shadowed, Set: func(p *document.Picture) { p.Parts[1].Copy.Shadow.Softness = 60 }},
		{Field: "Shadow.Strength", From: shadowed, Set: func(p *document.Picture) { p.Parts[1].Copy.Shadow.Strength = 30 }},
		{Field: "Shadow.Colour", From: shadowed, Set: func(p *document.Picture) { p.Parts[1].Copy.Shadow.Colour = "#2040a0" }},
		{Field: "Part.Pattern", From: patterned, Set: func(p *document.Picture) { p.Parts[0].Pattern = nil }},
		{Field: "Pattern.Lay", From: patterned, Set: func(p *document.Picture) {
			p.Parts[0].Pattern.Lay = pattern.Pattern{Tile: "checks", Share: 50, Size: 30, Strength: 100}
		}},
		{Field: "Pattern.Colours", From: patterned, Set: func(p *document.Picture) { p.Parts[0].Pattern.Colours = []document.Target{{CSS: "#402060"}} }},
		{Field: "Pattern.Tile", From: patterned, Set: func(p *document.Picture) { p.Parts[0].Pattern.Lay.Tile = "zigzag" }},
		{Field: "Pattern.File", From: patterned, Set: func(p *document.Picture) {
			p.Parts[0].Pattern.Lay.Tile, p.Parts[0].Pattern.Lay.File, p.Parts[0].Pattern.Lay.Figures = pattern.TileDrawn, stored, 1
		}},
		{Field: "Pattern.Credit", From: func() document.Picture {
			p := patterned()
			p.Parts[0].Pattern.Lay.Tile, p.Parts[0].Pattern.Lay.File, p.Parts[0].Pattern.Lay.Figures = pattern.TileDrawn, stored, 1
			return p
		}, Set: func(p *document.Picture) { p.Parts[0].Pattern.Lay.Credit = "A. Maker" }, Still: "a credit is not seen in pixels"},
		{Field: "Pattern.Figures", From: func() document.Picture {
			p := patterned()
			p.Parts[0].Pattern.Lay.Tile, p.Parts[0].Pattern.Lay.File, p.Parts[0].Pattern.Lay.Figures = pattern.TileDrawn, stored, 1
			return p
		}, Set: func(p *document.Picture) { p.Parts[0].Pattern.Lay.Figures = 2 }},
		{Field: "Pattern.Share", From: patterned, Set: func(p *document.Picture) { p.Parts[0].Pattern.Lay.Share = 70 }},
		{Field: "Pattern.Repeat", From: func() document.Picture { p := patterned(); p.Parts[0].Pattern.Lay.Tile = "dots"; return p }, Set: func(p *document.Picture) { p.Parts[0].Pattern.Lay.Repeat = "half-drop" }},
		{Field: "Pattern.Size", From: patterned, Set: func(p *document.Picture) { p.Parts[0].Pattern.Lay.Size = 33 }},
		{Field: "Pattern.Angle", From: patterned, Set: func(p *document.Picture) { p.Parts[0].Pattern.Lay.Angle = 40 }},
		{Field: "Pattern.Offset", From: patterned, Set: func(p *document.Picture) { p.Parts[0].Pattern.Lay.Offset = [2]float64{9, 4} }},
		{Field: "Pattern.Corners", From: patterned, Set: func(p *document.Picture) {
			p.Parts[0].Pattern.Lay.Corners = &[4][2]float64{{80, 70}, {190, 60}, {180, 180}, {70, 150}}
		}},
		{Field: "Pattern.Grid", From: cornered, Set: func(p *document.Picture) {
			p.Parts[0].Pattern.Lay.Grid = &[12][2]float64{{117, 55}, {153, 52}, {77, 97}, {125, 108}, {150, 98}, {187, 100}, {73, 123}, {112, 138}, {152, 125}, {183, 140}, {107, 160}, {143, 170}}
		}},
		{Field: "Pattern.Round", From: cornered, Set: func(p *document.Picture) { p.Parts[0].Pattern.Lay.Round = 70 }},
		{Field: "Pattern.Above", From: func() document.Picture { p := cornered(); p.Parts[0].Pattern.Lay.Round = 90; return p }, Set: func(p *document.Picture) { p.Parts[0].Pattern.Lay.Above = 60 }},
		{Field: "Pattern.Pushes", From: patterned, Set: func(p *document.Picture) { p.Parts[0].Pattern.Lay.Pushes = pushed(30) }},
		{Field: "Push.Radius", From: func() document.Picture { p := patterned(); p.Parts[0].Pattern.Lay.Pushes = pushed(30); return p }, Set: func(p *document.Picture) { p.Parts[0].Pattern.Lay.Pushes = pushed(45) }},
		{Field: "Push.Points", From: func() document.Picture { p := patterned(); p.Parts[0].Pattern.Lay.Pushes = pushed(30); return p }, Set: func(p *document.Picture) {
			p.Parts[0].Pattern.Lay.Pushes[0].Points = [][2]float64{{130, 110}, {130, 125}}
		}},
		{Field: "Pattern.Folds", From: patterned, Set: func(p *document.Picture) { p.Parts[0].Pattern.Lay.Folds = 100 }},
		{Field: "Pattern.Lean", From: func() document.Picture { p := patterned(); p.Parts[0].Pattern.Lay.Folds = 100; return p }, Set: func(p *document.Picture) { p.Parts[0].Pattern.Lay.Lean = 80 }},
		{Field: "Pattern.Strength", From: patterned, Set: func(p *document.Picture) { p.Parts[0].Pattern.Lay.Strength = 40 }},
		{Field: "Pattern.Print", From: patterned, Set: func(p *document.Picture) { p.Parts[0].Pattern.Lay.Print = true }},
		{Field: "Mend.Patch", From: patched, Set: func(p *document.Picture) { p.Mends[0].Patch.Shift = [2]float64{} }},
		{Field: "Patch.Nodes", From: patched, Set: func(p *document.Picture) { p.Mends[0].Patch.Nodes[1].P[0] += 25 }},
		{Field: "Patch.Shift", From: patched, Set: func(p *document.Picture) { p.Mends[0].Patch.Shift = [2]float64{-20, 60} }},
		{Field: "Patch.Turn", From: patched, Set: func(p *document.Picture) { p.Mends[0].Patch.Turn = 70 }},
		{Field: "Patch.Scale", From: patched, Set: func(p *document.Picture) { p.Mends[0].Patch.Scale = 2 }},
		{Field: "Patch.Flip", From: patched, Set: func(p *document.Picture) { p.Mends[0].Patch.Flip = true }},
		{Field: "Patch.Feather", From: patched, Set: func(p *document.Picture) { p.Mends[0].Patch.Feather = 20 }},
		{Field: "Patch.Fill", From: patched, Set: func(p *document.Picture) { p.Mends[0].Patch.Fill = 1 }},
		{Field: "Patch.Seamless", From: patched, Set: func(p *document.Picture) { p.Mends[0].Patch.Seamless = true }},
		{Field: "Mend.Strokes", From: mended, Set: func(p *document.Picture) { p.Mends[0].Strokes = nil }},
		brush("Stroke.Radius", func(s *mend.Stroke) { s.Radius = 14 }),
		brush("Stroke.Points", func(s *mend.Stroke) { s.Points[0] = [2]float64{50, 100} }),
		brush("Strength", func(s *mend.Stroke) { s.Strength = 0.4 }),
		brush("Sample", func(s *mend.Stroke) { s.Sample = &[2]float64{20, 200} }),
		brush("Into", func(s *mend.Stroke) { s.Into = true }),

		family("Family.Main", func(_ *document.Part, f *document.Family) { f.Main = "#e07070" }),
		family("Family.Held", func(_ *document.Part, f *document.Family) { f.Held = true }),
		family("Family.Members", func(_ *document.Part, f *document.Family) { f.Members = f.Members[:1] }),
		family("Family.How", func(_ *document.Part, f *document.Family) { f.How = artwork.Alike }),
		family("Family.Hue", func(_ *document.Part, f *document.Family) { f.Hue = 30 }),
		family("Family.Saturation", func(_ *document.Part, f *document.Family) { f.Saturation = -30 }),
		family("Family.Lightness", func(_ *document.Part, f *document.Family) { f.Lightness = 10 }),
		family("Family.Boards", func(_ *document.Part, f *document.Family) { f.Boards = []string{"right"} }),
		family("Family.Prop", func(_ *document.Part, f *document.Family) { f.Prop = "fill" }),
		family("Member.Colour", func(_ *document.Part, f *document.Family) { f.Members[1].Colour = "#2244aa" }),
		family("Member.Held", func(_ *document.Part, f *document.Family) { f.Members[1].Held = true }),
		still(family("Member.Count", func(_ *document.Part, f *document.Family) { f.Members[1].Count = 7 }), "it tells how much of a drawing a colour is"),
		still(family("Member.Area", func(_ *document.Part, f *document.Family) { f.Members[1].Area = 7.5 }), "it tells how much of a drawing a colour is"),
	}
}

// Content is what a job holds with every field set.
func Content(inks string) document.Content {
	s := recolour.Defaults()
	s.Method, s.Turn = "turn-hue", &recolour.Turn{Hue: 20}
	return document.Content{
		Palette: []document.Swatch{{ID: "harbour", Name: "Harbour / Größe", CSS: teal, Tolerance: 2.5}},
		Colourways: []document.Colourway{{ID: "one", Name: "One", Mark: document.MarkChosen, Remark: "as said\non the phone",
			Cells: map[string]document.Cell{"The disc": {Target: document.Target{CSS: sand, PaletteID: "harbour", Tolerance: 3, Neutral: true}, Settings: &s, Pattern: []document.Target{{CSS: teal, PaletteID: "harbour", Tolerance: 2, Neutral: true}}}}}},
		Inks: &document.Inks{Profile: inks, Name: "press.icc"},
		Recipes: []document.Recipe{{ID: "fresh", Name: "Fresher", Note: "for hedges", Target: document.Target{CSS: "oklch(from currentcolor l calc(c * 1.2) h)", Tolerance: 4, Neutral: true},
			Settings: s, Cast: &mend.Cast{Amount: 40, Reach: 60, Neutral: true}}},
	}
}
