package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"flag"
	"io"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"time"

	"episema/app/export"
	"episema/core/colour"
	"episema/core/develop"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/proof"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/imagefile"
	"episema/internal/memo"
)

// picksFile is picks.json as the command line's contract has it.
type picksFile struct {
	Picks []isolate.Pick `json:"picks"`
	Edge  *isolate.Edge  `json:"edge"`
}

func readPicks(path string) (picksFile, error) {
	var p picksFile
	b, err := os.ReadFile(path)
	if err != nil {
		return p, usagef("the picks file cannot be read: %v", err)
	}
	d := json.NewDecoder(bytes.NewReader(b))
	d.DisallowUnknownFields()
	if err := d.Decode(&p); err != nil {
		return p, usagef("%s is not the JSON this expects: %v; episema schema picks describes it", path, err)
	}
	if len(p.Picks) == 0 {
		return p, usagef("%s holds no picks; add at least one", path)
	}
	for i, k := range p.Picks {
		if k.Kind == "part" {
			return p, &isolate.InputError{Pick: i + 1, Problem: "parts are reused in the application; here, name the other part's mask with a mask pick"}
		}
	}
	if err := p.Edge.Validate(); err != nil {
		return p, err
	}
	return p, isolate.Validate(p.Picks)
}

// openPhoto decodes a photo into a temporary pyramid; done removes it.
func openPhoto(path string) (p *imagefile.Pyramid, done func(), err error) {
	if path == "" {
		return nil, nil, usagef("--photo is missing")
	}
	if _, err := os.Stat(path); err != nil {
		return nil, nil, usagef("the photo cannot be read: %v", err)
	}
	dir, err := os.MkdirTemp("", "episema-*")
	if err != nil {
		return nil, nil, err
	}
	p, err = imagefile.BuildPyramid(path, filepath.Join(dir, "photo"), imagefile.DefaultLimits())
	if err != nil {
		os.RemoveAll(dir)
		var r *imagefile.Rejected
		if errors.As(err, &r) {
			return nil, nil, usagef("%s: %s", path, r.Problem)
		}
		return nil, nil, err
	}
	return p, func() { p.Close(); os.RemoveAll(dir) }, nil
}

func selectCommand(args []string, _ io.Writer) error {
	fs := flag.NewFlagSet("select", flag.ContinueOnError)
	photo, picksPath := fs.String("photo", "", ""), fs.String("picks", "", "")
	depth, out := fs.String("depth", "", ""), fs.String("out", "", "")
	if err := parse(fs, args); err != nil {
		return err
	}
	if *out == "" {
		return usagef("--out is missing; name the mask to write, such as --out mask.png")
	}
	if *picksPath == "" {
		return usagef("--picks is missing")
	}
	picks, err := readPicks(*picksPath)
	if err != nil {
		return err
	}
	p, done, err := openPhoto(*photo)
	if err != nil {
		return err
	}
	defer done()
	in := isolate.Inputs{Space: p.Space, Masks: map[string]*raster.Mask{}}
	masks := in.Masks
	if *depth != "" {
		if in.Depth, err = imagefile.ReadMask(*depth); err != nil {
			return usagef("--depth %s: %v", *depth, err)
		}
	} else if in.Depth, err = imagefile.EmbeddedDepth(*photo); err != nil {
		return err
	}
	for i, k := range picks.Picks {
		if k.Kind != "mask" || masks[k.File] != nil {
			continue
		}
		file := k.File
		if !filepath.IsAbs(file) {
			file = filepath.Join(filepath.Dir(*picksPath), file)
		}
		if masks[k.File], err = imagefile.ReadMask(file); err != nil {
			return &isolate.InputError{Pick: i + 1, Problem: err.Error()}
		}
	}
	sel, err := isolate.Compile(p, picks.Picks, picks.Edge, in, solved{memo.New(solvedBytes)}, isolate.Exact)
	if err != nil {
		return err
	}
	w, h := p.Size(0)
	return whole(*out, func(tmp string) error {
		return imagefile.WriteMask(tmp, w, h, func(r raster.Rect) (*raster.Mask, error) { return sel.Render(0, r) })
	})
}

// solved keeps what is solved of one picture: the answers to strokes share what it is made of.
type solved struct{ cache *memo.Cache }

const solvedBytes = 256 << 20

func (s solved) Get(key [32]byte) (any, bool)       { return memo.Look[any](s.cache, string(key[:])) }
func (s solved) Put(key [32]byte, v any, bytes int) { s.cache.Put(string(key[:]), v, int64(bytes)) }

// whole makes a file under another name and moves it into place, so that a failure leaves none behind.
func whole(path string, write func(tmp string) error) error {
	tmp := filepath.Join(filepath.Dir(path), ".episema-"+strconv.Itoa(os.Getpid())+"-"+filepath.Base(path))
	defer os.Remove(tmp)
	if err := write(tmp); err != nil {
		return err
	}
	return os.Rename(tmp, path)
}

type report struct {
	Target  labeled `json:"target"`
	From    labOnly `json:"from"`
	Match   match   `json:"match"`
	Gamut   float64 `json:"out_of_gamut_percent"`
	Clipped float64 `json:"clipped_percent"`
	Left    left    `json:"old_colour_left"`
	Detail  float64 `json:"detail_kept"`
	Outside int     `json:"changed_outside_pixels"`
	Seconds float64 `json:"seconds"`
}

type left struct {
	Pixels int      `json:"pixels"`
	Places [][3]int `json:"places"` // x, y, pixels; largest first
}

type labOnly struct {
	Lab [3]float64 `json:"lab_d50"`
}

type labeled struct {
	CSS string     `json:"css"`
	Lab [3]float64 `json:"lab_d50"`
}

type match struct {
	DeltaE float64    `json:"delta_e00"`
	At     [2]float64 `json:"at"`
}

// settings are --set name=value, repeated.
type settings []string

func (s *settings) String() string     { return strings.Join(*s, " ") }
func (s *settings) Set(v string) error { *s = append(*s, v); return nil }

// recolouring is what recolour is asked for.
type recolouring struct {
	photo, mask, target, from, out, report string
	format                                 string // of out
	part                                   document.Part
	mendEdge                               bool
}

func recolourCommand(args []string, _ io.Writer) error {
	start := time.Now()
	q, err := readRecolouring(args)
	if err != nil {
		return err
	}
	p, done, err := openPhoto(q.photo)
	if err != nil {
		return err
	}
	defer done()
	d, err := q.develop(p)
	if err != nil {
		return err
	}
	dir, err := os.MkdirTemp("", "episema-*")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	var totals export.Totals
	err = whole(q.out, func(tmp string) error {
		totals, err = export.Picture(d, p, q.photo, dir, q.format, 92, imagefile.Options{}, tmp, nil, imagefile.Encode)
		return err
	})
	if err != nil || q.report == "" {
		return err
	}
	return q.writeReport(d, totals, start)
}

// readRecolouring reads the flags of recolour, and says what is wrong with them before any picture is opened.
func readRecolouring(args []string) (*recolouring, error) {
	q := &recolouring{}
	fs := flag.NewFlagSet("recolour", flag.ContinueOnError)
	fs.StringVar(&q.photo, "photo", "", "")
	fs.StringVar(&q.mask, "mask", "", "")
	fs.StringVar(&q.target, "target", "", "")
	fs.StringVar(&q.from, "from", "", "")
	fs.StringVar(&q.out, "out", "", "")
	fs.StringVar(&q.report, "report", "", "")
	fs.BoolVar(&q.mendEdge, "mend-edge", false, "")
	at, method, recipeOf := fs.String("match", "", ""), fs.String("method", "repaint", ""), fs.String("recipe", "", "")
	var list settings
	fs.Var(&list, "set", "")
	if err := parse(fs, args); err != nil {
		return nil, err
	}
	var recipe document.Recipe
	if *recipeOf != "" {
		var err error
		if recipe, err = findRecipe(*recipeOf); err != nil {
			return nil, err
		}
		if q.target == "" {
			q.target = recipe.Target.CSS
		}
	}
	for _, need := range []struct{ name, v string }{{"mask", q.mask}, {"target", q.target}, {"out", q.out}} {
		if need.v == "" {
			return nil, usagef("--%s is missing", need.name)
		}
	}
	q.format = map[string]string{".png": "png", ".jpg": "jpeg", ".jpeg": "jpeg"}[strings.ToLower(filepath.Ext(q.out))]
	if q.format == "" {
		return nil, usagef("--out %s: end the name in .png or .jpg", q.out)
	}
	set, cast, err := readSettings(*method, list)
	if err != nil {
		return nil, err
	}
	if *recipeOf != "" && (*method != "repaint" || len(list) > 0) {
		return nil, usagef("--recipe has its own method and settings; leave --method and --set away, or change them in the recipe's file")
	}
	if _, err := colour.ParseFrom(q.target, colour.Lab{50, 0, 0}); err != nil {
		return nil, err
	}
	if q.from != "" {
		if _, err := colour.ParseCSS(q.from); err != nil {
			return nil, err
		}
	}
	q.part = document.Part{ID: "part", Name: "part", Own: q.from, Settings: set, Cast: cast,
		Target: document.Target{CSS: q.target}, Picks: []isolate.Pick{{Kind: "mask", Join: "add", File: q.mask}}}
	if q.part.Match, err = readMatch(*at); err != nil {
		return nil, err
	}
	if *recipeOf != "" {
		recipe.Target = document.Target{CSS: q.target}
		q.part = recipe.On(q.part)
	}
	return q, nil
}

// readMatch reads x,y; nil for nothing.
func readMatch(at string) (*[2]float64, error) {
	if at == "" {
		return nil, nil
	}
	x, y, ok := strings.Cut(at, ",")
	px, err1 := strconv.ParseFloat(strings.TrimSpace(x), 64)
	py, err2 := strconv.ParseFloat(strings.TrimSpace(y), 64)
	if !ok || err1 != nil || err2 != nil {
		return nil, usagef("--match %s is not x,y", at)
	}
	return &[2]float64{px, py}, nil
}

// develop reads the mask and makes the picture ready.
func (q *recolouring) develop(p *imagefile.Pyramid) (*develop.Developed, error) {
	m, err := imagefile.ReadMask(q.mask)
	if err != nil {
		return nil, usagef("--mask %s: %v", q.mask, err)
	}
	w, h := p.Size(0)
	if m.W != w || m.H != h {
		return nil, usagef("--mask %s has %d x %d pixels, the photo %d x %d; make them the same size", q.mask, m.W, m.H, w, h)
	}
	if at := q.part.Match; at != nil && !(at[0] >= 0 && at[1] >= 0 && at[0] < float64(w) && at[1] < float64(h)) {
		return nil, usagef("--match %g,%g lies outside the photo, which has %d x %d pixels", at[0], at[1], w, h)
	}
	doc := document.Picture{Parts: []document.Part{q.part}}
	if q.mendEdge {
		doc.Mends = []document.Mend{{Kind: "edge", Part: q.part.ID}}
	}
	d, err := develop.Develop(develop.Source{Pyramid: p, Space: p.Space, Masks: map[string]*raster.Mask{q.mask: m}}, doc, nil, nil, isolate.Exact)
	if err == nil && d.Parts[0].Plan == nil {
		err = recolour.ErrEmptyMask
	}
	return d, err
}

func (q *recolouring) writeReport(d *develop.Developed, totals export.Totals, start time.Time) error {
	parts, _, err := proof.Measure(d)
	if err != nil {
		return err
	}
	part := parts[0]
	own := part.Own
	if q.from != "" {
		own, _ = colour.ParseCSS(q.from)
	}
	r := report{Target: labeled{q.target, part.Want}, From: labOnly{own}, Match: match{part.DeltaE, part.At},
		Gamut: totals.Percent(totals.OutOfGamut), Clipped: totals.Percent(totals.Clipped), Outside: totals.ChangedOutside,
		Seconds: time.Since(start).Seconds(), Left: left{Places: [][3]int{}}}
	c, err := proof.Closely(d, 0, nil)
	if err != nil {
		return err
	}
	r.Left.Pixels, r.Detail = c.Left.Pixels, c.Detail
	for _, p := range c.Left.Places {
		r.Left.Places = append(r.Left.Places, [3]int{p.X, p.Y, p.Pixels})
	}
	b, err := json.MarshalIndent(r, "", "  ")
	if err != nil {
		return err
	}
	return whole(q.report, func(tmp string) error { return os.WriteFile(tmp, append(b, '\n'), 0o644) })
}
