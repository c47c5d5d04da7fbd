package main

import (
	"encoding/json"
	"image"
	"image/png"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/artwork"
	"episema/core/colour"
	"episema/core/document"
	"episema/core/recolour"
)

// episema runs the command in this process's place and gives exit status and standard error.
func episema(t *testing.T, args ...string) (int, string) {
	t.Helper()
	cmd := exec.Command(os.Args[0], args...)
	cmd.Env = append(os.Environ(), "EPISEMA_AS_COMMAND=1")
	var errs strings.Builder
	cmd.Stderr = &errs
	_ = cmd.Run() // the status says it
	return cmd.ProcessState.ExitCode(), errs.String()
}

func TestMain(m *testing.M) {
	if os.Getenv("EPISEMA_AS_COMMAND") != "" {
		main()
		os.Exit(0)
	}
	os.Exit(m.Run())
}

const mug = "../../demo/pictures/depot-mug.png"

func TestSelectThenRecolour(t *testing.T) {
	dir := t.TempDir()
	in := func(n string) string { return filepath.Join(dir, n) }
	require.NoError(t, os.WriteFile(in("picks.json"), []byte(`{"picks":[{"kind":"sweep","join":"add","strokes":[{"radius":18,"points":[[620,600],[1000,640],[900,880]]}]},
		{"kind":"brush","join":"subtract","strokes":[{"radius":30,"points":[[700,700]]}],"softness":0.15,"strength":1}],"edge":{"feather":0}}`), 0o644))
	code, msg := episema(t, "select", "--photo", mug, "--picks", in("picks.json"), "--out", in("mask.png"))
	require.Zero(t, code, msg)
	code, msg = episema(t, "recolour", "--photo", mug, "--mask", in("mask.png"), "--target", "#1d6a72", "--from", "#9c2a1e", "--set", "shade_depth=8", "--out", in("out.png"), "--report", in("report.json"))
	require.Zero(t, code, msg)
	var rep map[string]any
	b, err := os.ReadFile(in("report.json"))
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(b, &rep))
	for _, k := range []string{"target", "from", "match", "out_of_gamut_percent", "clipped_percent", "old_colour_left", "detail_kept", "changed_outside_pixels", "seconds"} {
		assert.Contains(t, rep, k)
	}
	assert.EqualValues(t, 0, rep["changed_outside_pixels"])
	assert.Greater(t, rep["detail_kept"], 0.8)
	read := func(p string) image.Image {
		f, err := os.Open(p)
		require.NoError(t, err)
		defer f.Close()
		m, err := png.Decode(f)
		require.NoError(t, err)
		return m
	}
	before, mask, after := read(mug), read(in("mask.png")), read(in("out.png"))
	changed := 0
	for y := 0; y < 1200; y++ {
		for x := 0; x < 1800; x++ {
			m, _, _, _ := mask.At(x, y).RGBA()
			same := before.At(x, y) == after.At(x, y)
			if m == 0 {
				require.True(t, same, "pixel %d, %d lies outside the mask and changed", x, y)
			} else if !same {
				changed++
			}
		}
	}
	assert.Greater(t, changed, 100000)
}

// Every kind of the contract, in one file, with the edge settings: the mask has what is asked for.
func TestSelectWithEveryKind(t *testing.T) {
	dir := t.TempDir()
	in := func(n string) string { return filepath.Join(dir, n) }
	white := image.NewGray(image.Rect(0, 0, 1800, 1200))
	for i := range white.Pix {
		white.Pix[i] = 255
	}
	f, err := os.Create(in("all.png"))
	require.NoError(t, err)
	require.NoError(t, png.Encode(f, white))
	require.NoError(t, f.Close())
	require.NoError(t, os.WriteFile(in("picks.json"), []byte(`{"picks":[
		{"kind":"subject","join":"add"},
		{"kind":"mask","join":"intersect","file":"all.png"},
		{"kind":"depth","join":"intersect","from":0.1,"to":1,"soft":0.05},
		{"kind":"like","join":"intersect","samples":[[700,700]],"boxes":[[620,480,1100,900]],"not":[[1550,820]],"tolerance":16,"connected":true},
		{"kind":"hues","join":"intersect","from":10,"to":60,"soft":20},
		{"kind":"tones","join":"subtract","from":95,"to":100,"soft":2},
		{"kind":"outline","join":"subtract","nodes":[{"p":[1150,300]},{"p":[1500,300],"out":[1550,500]},{"p":[1450,860]},{"p":[1200,860]}]},
		{"kind":"marks","join":"subtract","ring":[[10,10],[60,10],[60,60],[10,60]],"inside":[{"radius":8,"points":[[30,30],[40,40]]}]},
		{"kind":"brush","join":"add","flow":0.5,"limit":true,"strokes":[{"radius":12,"points":[[700,700],[720,700]]}]}],
		"edge":{"feather":1,"grow":0.5,"smooth":1,"drop_specks_under":400,"fill_holes_under":400}}`), 0o644))
	code, msg := episema(t, "select", "--photo", mug, "--picks", in("picks.json"), "--depth", "../../demo/truth/mug-depth.png", "--out", in("mask.png"))
	require.Zero(t, code, msg)
	f, err = os.Open(in("mask.png"))
	require.NoError(t, err)
	defer f.Close()
	m, err := png.Decode(f)
	require.NoError(t, err)
	at := func(x, y int) uint32 { v, _, _, _ := m.At(x, y).RGBA(); return v }
	assert.EqualValues(t, 65535, at(800, 700), "the body")
	assert.Zero(t, at(1340, 560), "the handle is taken away")
	assert.Zero(t, at(100, 100), "the table")
}

func TestWrongCallsEndWithStatusTwoAndOneLine(t *testing.T) {
	dir := t.TempDir()
	out := filepath.Join(dir, "out.png")
	file := func(name, text string) string {
		p := filepath.Join(dir, name)
		require.NoError(t, os.WriteFile(p, []byte(text), 0o644))
		return p
	}
	small := filepath.Join(dir, "small.png")
	f, err := os.Create(small)
	require.NoError(t, err)
	require.NoError(t, png.Encode(f, image.NewGray(image.Rect(0, 0, 20, 20))))
	require.NoError(t, f.Close())
	for name, c := range map[string]struct {
		args []string
		want string
	}{
		"no command":      {[]string{"paint"}, "no command"},
		"no photo":        {[]string{"select", "--picks", file("p.json", `{"picks":[{"kind":"brush","join":"add","strokes":[{"radius":1,"points":[[1,1]]}]}]}`), "--out", out}, "--photo is missing"},
		"empty outline":   {[]string{"select", "--photo", mug, "--picks", file("l.json", `{"picks":[{"kind":"outline","join":"add","nodes":[{"p":[1,1]}],"snap":true}]}`), "--out", out}, "encloses nothing"},
		"no depth map":    {[]string{"select", "--photo", mug, "--picks", file("d.json", `{"picks":[{"kind":"depth","join":"add","from":0.5,"to":1}]}`), "--out", out}, "no depth map"},
		"no such depth":   {[]string{"select", "--photo", mug, "--depth", "none.png", "--picks", file("p.json", `{"picks":[{"kind":"subject","join":"add"}]}`), "--out", out}, "--depth none.png"},
		"edge":            {[]string{"select", "--photo", mug, "--picks", file("e.json", `{"picks":[{"kind":"subject","join":"add"}],"edge":{"feather":-2}}`), "--out", out}, "feather is -2"},
		"another part":    {[]string{"select", "--photo", mug, "--picks", file("o.json", `{"picks":[{"kind":"part","join":"add","part":"x"}]}`), "--out", out}, "mask pick"},
		"broken picks":    {[]string{"select", "--photo", mug, "--picks", file("b.json", `{"picks":`), "--out", out}, "schema picks"},
		"misspelt":        {[]string{"select", "--photo", mug, "--picks", file("m.json", `{"picks":[{"kind":"brush","joni":"add"}]}`), "--out", out}, "joni"},
		"not a photo":     {[]string{"select", "--photo", file("x.jpg", "text"), "--picks", file("p.json", `{"picks":[{"kind":"brush","join":"add","strokes":[{"radius":1,"points":[[1,1]]}]}]}`), "--out", out}, "none of JPEG"},
		"mask size":       {[]string{"recolour", "--photo", mug, "--mask", small, "--target", "#fff", "--out", out}, "same size"},
		"empty mask":      {[]string{"recolour", "--photo", small, "--mask", small, "--target", "#fff", "--out", out}, "mask is empty"},
		"colour":          {[]string{"recolour", "--photo", mug, "--mask", small, "--target", "cmyk(", "--out", out}, "bracket"},
		"unknown method":  {[]string{"recolour", "--photo", mug, "--mask", small, "--target", "#fff", "--method", "glaze", "--out", out}, "not known"},
		"curve points":    {[]string{"recolour", "--photo", mug, "--mask", small, "--target", "#fff", "--method", "curves", "--set", "all=1,2,3", "--out", out}, "x,y;x,y"},
		"other's setting": {[]string{"recolour", "--photo", mug, "--mask", small, "--target", "#fff", "--set", "dark=#000", "--out", out}, "shade_depth"},
		"blend mode":      {[]string{"recolour", "--photo", mug, "--mask", small, "--target", "#fff", "--set", "finish_blend_mode=glow", "--out", out}, "soft-light"},
		"unknown setting": {[]string{"recolour", "--photo", mug, "--mask", small, "--target", "#fff", "--set", "glow=3", "--out", out}, "glow"},
		"out name":        {[]string{"recolour", "--photo", mug, "--mask", small, "--target", "#fff", "--out", filepath.Join(dir, "x.bmp")}, ".png or .jpg"},
		"no recipe":       {[]string{"recolour", "--photo", mug, "--mask", small, "--recipe", "Glow", "--out", out}, "Foliage, fresher"},
		"which recipe":    {[]string{"recolour", "--photo", mug, "--mask", small, "--recipe", file("two.json", `{"recipes":[{"name":"a","target":{},"settings":{}},{"name":"b","target":{},"settings":{}}]}`), "--out", out}, "two.json#a"},
		"wrong recipe":    {[]string{"recolour", "--photo", mug, "--mask", small, "--recipe", file("r.json", `{"recipes":[{"name":"a","taste":3}]}`), "--out", out}, "taste"},
		"recipe and set":  {[]string{"recolour", "--photo", mug, "--mask", small, "--recipe", "Quieter", "--set", "strength=3", "--out", out}, "leave --method and --set away"},
		"flag":            {[]string{"recolour", "--foto", mug}, "foto"},
		"artwork":         {[]string{"artwork", "paint"}, "colours and recolour"},
		"artwork input":   {[]string{"artwork", "colours", "--in", mug, "--out", filepath.Join(dir, "f.json")}, "line 1"},
		"worker":          {[]string{"worker"}, "--database"},
		"memory":          {[]string{"serve", "--memory", "lots"}, "800MB"},
		"too little disk": {[]string{"serve", "--disk", "10MB"}, "less than 1024 MB"},
		"schema":          {[]string{"schema", "parts"}, "picks, report, families and job"},
	} {
		t.Run(name, func(t *testing.T) {
			code, msg := episema(t, c.args...)
			assert.Equal(t, 2, code, msg)
			assert.Contains(t, msg, c.want)
			assert.Equal(t, 1, strings.Count(msg, "\n"), "one line: %q", msg)
			_, err := os.Stat(out)
			assert.True(t, os.IsNotExist(err), "no output file is left behind")
		})
	}
}

func TestSchemasAreJSON(t *testing.T) {
	for _, s := range []string{picksSchema, reportSchema, familiesSchema, jobSchema} {
		assert.True(t, json.Valid([]byte(s)))
	}
}

// TestArtworkOnTheCommandLine: what colours writes, recolour reads; a target changes colour tokens only.
func TestArtworkOnTheCommandLine(t *testing.T) {
	dir := t.TempDir()
	poster := filepath.Join("..", "..", "demo", "artwork", "poster.svg")
	list, out := filepath.Join(dir, "families.json"), filepath.Join(dir, "b.svg")
	code, msg := episema(t, "artwork", "colours", "--in", poster, "--families", "4", "--hold", "#d9a441", "rgb(246 236 210)", "--out", list)
	require.Equal(t, 0, code, msg)
	var plan artwork.Plan
	b, err := os.ReadFile(list)
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(b, &plan))
	require.Len(t, plan.Families, 4)
	code, msg = episema(t, "artwork", "recolour", "--in", poster, "--families", list, "--out", out)
	require.Equal(t, 0, code, msg)
	was, err := os.ReadFile(poster)
	require.NoError(t, err)
	is, err := os.ReadFile(out)
	require.NoError(t, err)
	assert.Equal(t, string(was), string(is), "without a target nothing changes")
	for i := range plan.Families {
		if !plan.Families[i].Held {
			plan.Families[i].Target, plan.Families[i].How = "oklch(50% 0.1 300)", "tints"
		}
	}
	b, err = json.Marshal(plan)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(list, b, 0o644))
	code, msg = episema(t, "artwork", "recolour", "--in", poster, "--families", list, "--out", out)
	require.Equal(t, 0, code, msg)
	is, err = os.ReadFile(out)
	require.NoError(t, err)
	tokens := regexp.MustCompile(`#[0-9a-f]{6}`)
	assert.Equal(t, tokens.ReplaceAllString(string(was), "C"), tokens.ReplaceAllString(string(is), "C"), "only colour tokens differ")
	assert.NotEqual(t, string(was), string(is))
	for _, held := range []string{"#d9a441", "#f6ecd2"} {
		assert.Equal(t, strings.Count(string(was), held), strings.Count(string(is), held), "%s is held", held)
	}
}

// A file that is there already is not touched when another one cannot be written in its place: the disk is full, say.
func TestAFileThatCannotBeReplacedStays(t *testing.T) {
	dir := t.TempDir()
	poster := filepath.Join("..", "..", "demo", "artwork", "poster.svg")
	list := filepath.Join(dir, "families.json")
	code, msg := episema(t, "artwork", "colours", "--in", poster, "--families", "4", "--out", list)
	require.Equal(t, 0, code, msg)
	for _, args := range [][]string{
		{"artwork", "colours", "--in", poster, "--families", "4"},
		{"artwork", "recolour", "--in", poster, "--families", list},
		{"recolour", "--photo", filepath.Join("..", "..", "demo", "pictures", "depot-mug.png"), "--mask", filepath.Join("..", "..", "demo", "truth", "mug-mask.png"), "--target", "#1d6a72"},
	} {
		ending := ".svg"
		if args[0] == "recolour" {
			ending = ".png"
		}
		out := filepath.Join(dir, "there"+ending)
		require.NoError(t, os.WriteFile(out, []byte("what was there"), 0o600))
		// Files of more than a block cannot be written, as on a disk that is full.
		cmd := exec.Command("bash", append([]string{"-c", `ulimit -f 1; trap "" XFSZ; exec "$@"`, "-", os.Args[0]}, append(args, "--out", out)...)...)
		cmd.Env = append(os.Environ(), "EPISEMA_AS_COMMAND=1")
		said, err := cmd.CombinedOutput()
		require.Error(t, err, "%v: %s", args, said)
		require.NotContains(t, string(said), "flag", "%v", args)
		require.NotContains(t, string(said), "damaged", "a disk that is full is no fault of the file")
		b, err := os.ReadFile(out)
		require.NoError(t, err, "%v", args)
		assert.Equal(t, "what was there", string(b), "%v", args)
		left, err := filepath.Glob(filepath.Join(dir, "*"))
		require.NoError(t, err)
		for _, f := range left {
			assert.NotContains(t, f, ".tmp", "nothing half written is left")
		}
		require.NoError(t, os.Remove(out))
	}
}

// A recipe that ships, and one of a file, recolour as their names say.
func TestARecipeOnTheCommandLine(t *testing.T) {
	dir := t.TempDir()
	in := func(n string) string { return filepath.Join(dir, n) }
	require.NoError(t, os.WriteFile(in("picks.json"), []byte(`{"picks":[{"kind":"sweep","join":"add","strokes":[{"radius":18,"points":[[620,600],[1000,640],[900,880]]}]}]}`), 0o644))
	code, msg := episema(t, "select", "--photo", mug, "--picks", in("picks.json"), "--out", in("mask.png"))
	require.Zero(t, code, msg)
	b, err := document.WriteRecipes([]document.Recipe{{Name: "Grey", Target: document.Target{CSS: "#808080"}, Settings: recolour.Defaults()}, {Name: "Quieter", Target: document.Target{CSS: "currentcolor"}, Settings: recolour.Defaults()}})
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(in("ours.json"), b, 0o644))
	chroma := func(recipe string) float64 {
		code, msg := episema(t, "recolour", "--photo", mug, "--mask", in("mask.png"), "--recipe", recipe, "--out", in("out.png"), "--report", in("report.json"))
		require.Zero(t, code, msg)
		var rep struct {
			Target, From struct {
				Lab [3]float64 `json:"lab_d50"`
			}
		}
		b, err := os.ReadFile(in("report.json"))
		require.NoError(t, err)
		require.NoError(t, json.Unmarshal(b, &rep))
		f, err := os.Open(in("out.png"))
		require.NoError(t, err)
		defer f.Close()
		m, err := png.Decode(f)
		require.NoError(t, err)
		r, g, bl, _ := m.At(800, 640).RGBA()
		l := colour.SRGB.Lab(colour.SRGB.LinearOf(colour.RGB{float64(r) / 65535, float64(g) / 65535, float64(bl) / 65535}))
		return math.Hypot(l[1], l[2])
	}
	grey, same, quiet := chroma(in("ours.json")+"#grey"), chroma(in("ours.json")+"#Quieter"), chroma("quieter")
	assert.Less(t, grey, 3.0)
	assert.Greater(t, same, 30.0)
	assert.InDelta(t, 0.7, quiet/same, 0.1)
}
