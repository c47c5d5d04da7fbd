package app

import (
	"bytes"
	"context"
	"image"
	"image/jpeg"
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/imagefile"
	"episema/internal/problem"
)

const pressProfile = "/usr/share/color/icc/ghostscript/default_cmyk.icc"

// inked gives a studio with the mug in a job whose inks are those of the press profile.
func inked(t *testing.T) (*Studio, uuid.UUID, uuid.UUID, []byte) {
	t.Helper()
	s, ctx := studio(t), context.Background()
	id := mug(t, s)
	pic, err := s.Store.Picture(ctx, id)
	require.NoError(t, err)
	profile, err := os.ReadFile(pressProfile)
	require.NoError(t, err)
	j, err := s.Store.Job(ctx, pic.Job)
	require.NoError(t, err)
	_, err = s.SetInks(ctx, pic.Job, j.Revision, "press.icc", bytes.NewReader(profile))
	require.NoError(t, err)
	return s, pic.Job, id, profile
}

// The stage in ink is the stage through the job's profile, before and after; without a profile it is refused.
func TestTheStageIsSeenInInk(t *testing.T) {
	s, ctx := studio(t), context.Background()
	v := View{X: 500, Y: 300, W: 400, H: 300, Width: 200, Height: 150, Show: "picture", Ink: InkOnWhite}
	_, err := s.Render(ctx, mug(t, s), v)
	var no *problem.Input
	require.ErrorAs(t, err, &no)
	assert.Contains(t, err.Error(), "no ink profile")

	s, _, id, profile := inked(t)
	table, err := imagefile.InkTable(profile)
	require.NoError(t, err)
	for _, show := range []string{"picture", "before"} {
		v.Show, v.Ink, v.InkMarks = show, "", false
		plain, err := s.Render(ctx, id, v)
		require.NoError(t, err)
		for _, ink := range []string{InkOnWhite, InkOnPaper} {
			v.Ink = ink
			got, err := s.Render(ctx, id, v)
			require.NoError(t, err)
			differs := 0
			for i := 0; i < len(plain); i += 4 {
				want := table.See(colour.RGB{float64(plain[i]) / 255, float64(plain[i+1]) / 255, float64(plain[i+2]) / 255}, ink == InkOnPaper)
				for c := range 3 {
					require.InDelta(t, 255*want[c], float64(got[i+c]), 0.51, "%s in ink on %s", show, ink)
				}
				if !bytes.Equal(plain[i:i+4], got[i:i+4]) {
					differs++
				}
			}
			assert.Greater(t, differs, len(plain)/8, "most of it looks different in ink")
			v.Ink = ""
		}
	}
	v.Ink = "gold"
	_, err = s.Render(ctx, id, v)
	assert.ErrorContains(t, err, "white or paper")
}

// What the inks cannot reach is counted in the proof, and the nearest that they reach is named.
func TestTheProofTellsWhatInksMiss(t *testing.T) {
	s, _, id, profile := inked(t)
	ctx := context.Background()
	table, err := imagefile.InkTable(profile)
	require.NoError(t, err)
	missed := func(css string) float64 {
		doc := teal()
		doc.Parts[0].Target.CSS = css
		m, err := s.Prove(ctx, id, &doc)
		require.NoError(t, err)
		parts := m.Parts
		require.NotNil(t, parts[0].Ink)
		l, err := colour.ParseCSS(css)
		require.NoError(t, err)
		coded := colour.SRGB.Coded(colour.SRGB.Linear(l))
		assert.InDelta(t, table.Missed(coded), parts[0].Ink.Beyond, 0.01)
		want := colour.SRGB.Lab(colour.SRGB.LinearOf(table.See(coded, false)))
		assert.Less(t, colour.DeltaE00(want, parts[0].Ink.Nearest), 0.05)
		if parts[0].Ink.Missed > 1 {
			assert.NotNil(t, parts[0].Ink.At)
		}
		return parts[0].Ink.Missed
	}
	assert.Less(t, missed("#8a8078"), 12.0, "a dull grey can be printed")
	assert.Greater(t, missed("#0030ff"), 70.0, "the screen's blue cannot")
}

// A file ordered in CMYK has the profile inside and is what the proof of the stage shows, as LittleCMS's own tools read it.
func TestADeliveryInInksIsReadBack(t *testing.T) {
	s, job, id, profile := inked(t)
	ctx := context.Background()
	table, err := imagefile.InkTable(profile)
	require.NoError(t, err)
	plainFile, _ := delivered(t, s, job, id, "", "jpeg", imagefile.Options{Longest: 450})
	plain, err := jpeg.Decode(bytes.NewReader(plainFile))
	require.NoError(t, err)
	for format, tool := range map[string]string{"jpeg": "jpgicc", "tiff8": "tificc", "tiff": "tificc"} {
		b, _ := delivered(t, s, job, id, "", format, imagefile.Options{Longest: 450, Profile: "inks"})
		dir := t.TempDir()
		in, icc := filepath.Join(dir, "in"), filepath.Join(dir, "inside.icc")
		require.NoError(t, os.WriteFile(in, b, 0o644))
		back := filepath.Join(dir, "back")
		out, err := exec.Command(tool, "-c0", "-t1", "-s"+icc, in, back).CombinedOutput()
		require.NoError(t, err, string(out))
		inside, err := os.ReadFile(icc)
		require.NoError(t, err)
		assert.Equal(t, profile, inside, "%s: the profile is inside, byte by byte", format)
		if format != "jpeg" {
			continue
		}
		f, err := os.ReadFile(back)
		require.NoError(t, err)
		shown, err := jpeg.Decode(bytes.NewReader(f))
		require.NoError(t, err)
		require.Equal(t, plain.Bounds(), shown.Bounds())
		sum, n := 0.0, 0
		for y := 5; y < plain.Bounds().Dy(); y += 7 {
			for x := 5; x < plain.Bounds().Dx(); x += 7 {
				want := table.See(codedAt(plain, x, y), false)
				sum += colour.DeltaE00(labOfCoded(want), labOfCoded(codedAt(shown, x, y)))
				n++
			}
		}
		t.Logf("CIEDE2000 to what the stage shows in ink, through two JPEGs: mean %.2f", sum/float64(n))
		assert.Less(t, sum/float64(n), 1.5)
	}

	worker, err := s.Queue(1)
	require.NoError(t, err)
	for format, says := range map[string]string{"png": "holds no CMYK", "avif": "holds no CMYK"} {
		_, err := s.OrderFiles(ctx, worker, job, Order{Pictures: []uuid.UUID{id}, Format: format, Quality: 92, Options: imagefile.Options{Profile: "inks"}})
		assert.ErrorContains(t, err, says)
	}
	other := mug(t, s)
	pic, err := s.Store.Picture(ctx, other)
	require.NoError(t, err)
	_, err = s.OrderFiles(ctx, worker, pic.Job, Order{Pictures: []uuid.UUID{other}, Format: "jpeg", Quality: 92, Options: imagefile.Options{Profile: "inks"}})
	assert.ErrorContains(t, err, "bring one into the job")
}

func codedAt(m image.Image, x, y int) colour.RGB {
	r, g, b, _ := m.At(x, y).RGBA()
	return colour.RGB{float64(r) / 65535, float64(g) / 65535, float64(b) / 65535}
}

func labOfCoded(c colour.RGB) colour.Lab { return colour.SRGB.Lab(colour.SRGB.LinearOf(c)) }
