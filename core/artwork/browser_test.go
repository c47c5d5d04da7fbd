package artwork

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/e2e/drive"
)

// files are drawings that others drew: the demo's, and two sets from the npm registry, used in tests only (bootstrap-icons
// and flag-icons, both MIT).
func files(t *testing.T) map[string][]byte {
	out := map[string][]byte{}
	for _, pattern := range []string{"testdata/*.svg", "../../demo/artwork/*.svg", "../../web/node_modules/bootstrap-icons/icons/*.svg", "../../web/node_modules/flag-icons/flags/4x3/*.svg"} {
		list, err := filepath.Glob(pattern)
		require.NoError(t, err)
		require.NotEmpty(t, list, "%s: the packages of web/ are not installed", pattern)
		for _, f := range list {
			b, err := os.ReadFile(f)
			require.NoError(t, err)
			out[f] = b
		}
	}
	return out
}

// TestCascadeAgainstChromium: fill, stroke and stop-color of every element of every file, as getComputedStyle gives them.
func TestCascadeAgainstChromium(t *testing.T) {
	all := files(t)
	var names []string
	for n := range all {
		names = append(names, n)
	}
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		var n int
		if _, err := fmt.Sscanf(r.URL.Path, "/%d.svg", &n); err != nil {
			w.Header().Set("Content-Type", "text/html")
			fmt.Fprint(w, "<!doctype html><body></body>")
			return
		}
		w.Header().Set("Content-Type", "image/svg+xml")
		_, _ = w.Write(all[names[n]])
	}))
	defer server.Close()
	b, err := drive.Open(context.Background(), 800, 600)
	require.NoError(t, err)
	defer b.Close()
	require.NoError(t, b.Do(chromedp.Navigate(server.URL)))
	const js = `(async (from, to) => {
		const read = (d, w) => [...d.querySelectorAll("*")].map((e) => { const s = w.getComputedStyle(e); return [s.fill, s.stroke, s.stopColor]; });
		const one = async (n) => {
			const text = await (await fetch(n + ".svg")).text();
			if (text.includes("<style")) return framed(n);
			const host = document.createElement("div");
			host.append(new DOMParser().parseFromString(text, "image/svg+xml").documentElement);
			document.body.append(host);
			const out = read(host, window);
			host.remove();
			return out;
		};
		const framed = (n) => new Promise((done) => {
			const f = document.createElement("iframe");
			f.onload = () => {
				done(read(f.contentDocument, f.contentWindow));
				f.remove();
			};
			f.src = n + ".svg";
			document.body.append(f);
		});
		const out = [];
		for (let n = from; n < to; n += 1) out.push(one(n));
		return JSON.stringify(await Promise.all(out));
	})(%d, %d)`
	compared := 0
	for from := 0; from < len(names); from += 100 {
		to := min(from+100, len(names))
		text, err := drive.Await[string](b, fmt.Sprintf(js, from, to))
		require.NoError(t, err)
		var theirs [][][3]string
		require.NoError(t, json.Unmarshal([]byte(text), &theirs))
		for k, elements := range theirs {
			d, err := Parse(all[names[from+k]])
			require.NoError(t, err, names[from+k])
			require.Len(t, elements, len(d.Elements), names[from+k])
			for i, e := range elements {
				if !d.Elements[i].SVG {
					continue
				}
				for n, p := range []int{fill, stroke, stopColour} {
					ours, want := d.used(i, p).paint, readPaint(e[n])
					same := ours.kind == want.kind && ours.key == want.key && ours.ref == want.ref
					if ours.kind == paintColour && want.kind == paintColour {
						same = colour.DeltaE00(ours.lab, want.lab) < 0.8 && ours.alpha-want.alpha < 0.003 && want.alpha-ours.alpha < 0.003
					}
					if !assert.True(t, same, "%s: element %d (%s), %s: ours %+v, Chromium's %s", names[from+k], i, d.Elements[i].Name, properties[p].name, ours, e[n]) {
						return
					}
					compared++
				}
			}
		}
	}
	t.Logf("%d values of %d files", compared, len(names))
}

// TestNothingChangesByItself: every file is written as it was read.
func TestNothingChangesByItself(t *testing.T) {
	for name, b := range files(t) {
		d, err := Parse(b)
		require.NoError(t, err, name)
		require.Empty(t, d.LeftOut, name)
		require.True(t, string(b) == string(d.Recolour(nil, nil).Source), name)
		families, err := Gather(d.Colours, 0, nil)
		require.NoError(t, err)
		changes, err := (&Plan{Families: families}).Changes()
		require.NoError(t, err)
		require.Empty(t, changes)
	}
}

// colourToken is every way in which the files write colours, and the attributes that are added where black was nowhere.
var colourToken = regexp.MustCompile(`#[0-9a-fA-F]{3,8}\b|rgba?\([^)]*\)|hsla?\([^)]*\)|\b(?:currentColor|black|white|red|gold|none)\b| (?:fill|stroke)="C"`)

func bare(b []byte) string {
	once := colourToken.ReplaceAllString(string(b), "C")
	return regexp.MustCompile(` (?:fill|stroke)="C"`).ReplaceAllString(once, "")
}

// TestAFamilyChangesColoursOnly: in every file one family gets another colour; what differs is colour tokens alone, and
// the family's colours are gone from what is painted.
func TestAFamilyChangesColoursOnly(t *testing.T) {
	target, err := colour.ParseCSS("#123abc")
	require.NoError(t, err)
	changed := 0
	for name, b := range files(t) {
		if strings.HasPrefix(name, "testdata") {
			continue // of every notation there is; TestOnlyColourTokensChange has them
		}
		d, err := Parse(b)
		require.NoError(t, err)
		families, err := Gather(d.Colours, 0, nil)
		require.NoError(t, err)
		if len(families) == 0 {
			continue
		}
		f := &families[0]
		f.Held, f.Target, f.How = false, "#123abc", Alike
		for i := range f.Members {
			f.Members[i].Held = false
		}
		changes, err := (&Plan{Families: families[:1]}).Changes()
		require.NoError(t, err)
		r := d.Recolour(changes, nil)
		again, err := Parse(r.Source)
		require.NoError(t, err, name)
		require.True(t, bare(b) == bare(r.Source), "%s differs in more than colours", name)
		colours := map[[2]any]string{}
		for _, it := range again.Items {
			colours[[2]any{it.Element, it.Prop}] = again.Colours[it.Colour].Key
		}
		for i := range d.Items {
			it := &d.Items[i]
			was := d.Colours[it.Colour].Key
			is, ok := colours[[2]any{it.Element, it.Prop}]
			if !ok { // a use whose target has its colour itself now
				require.Equal(t, "use", d.Elements[it.Element].Name, name)
				continue
			}
			if _, ok := changes[was]; ok {
				require.Equal(t, Key(target), is, "%s: item %d was %s", name, i, was)
				changed++
			} else {
				require.Equal(t, was, is, "%s: item %d", name, i)
			}
		}
	}
	t.Logf("%d items changed", changed)
}
