package artwork

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
)

func lab(t *testing.T, css string) colour.Lab {
	l, err := colour.ParseCSS(css)
	require.NoError(t, err)
	return l
}

func recoloured(t *testing.T, src, from, to string) string {
	d, err := Parse([]byte(src))
	require.NoError(t, err)
	return string(d.Recolour(map[string]colour.Lab{Key(lab(t, from)): lab(t, to)}, nil).Source)
}

// TestOnlyColourTokensChange: each way in which a colour is written, and the bytes that may differ.
func TestOnlyColourTokensChange(t *testing.T) {
	for name, c := range map[string]struct{ src, want string }{
		"attribute":        {`<svg><rect  fill = "red" width="3"/></svg>`, `<svg><rect  fill = "#1d6a72" width="3"/></svg>`},
		"hex case":         {`<svg><rect fill="#FF0000"/></svg>`, `<svg><rect fill="#1D6A72"/></svg>`},
		"short hex":        {`<svg><rect fill='#f00'/></svg>`, `<svg><rect fill='#1d6a72'/></svg>`},
		"style":            {`<svg><rect style=" fill : rgb(255,0,0) ; stroke:none"/></svg>`, `<svg><rect style=" fill : #1d6a72 ; stroke:none"/></svg>`},
		"transparency":     {`<svg><rect fill="rgba(255, 0, 0, 0.5)"/></svg>`, `<svg><rect fill="rgba(29,106,114,0.5)"/></svg>`},
		"sheet":            {`<svg><style>/* red */ .a{fill:red/* x */}</style><rect class="b a"/></svg>`, `<svg><style>/* red */ .a{fill:#1d6a72/* x */}</style><rect class="b a"/></svg>`},
		"cdata":            {"<svg><style><![CDATA[\n.a { fill: #f00; }]]></style><g class='a'><path d='M0 0'/></g></svg>", "<svg><style><![CDATA[\n.a { fill: #1d6a72; }]]></style><g class='a'><path d='M0 0'/></g></svg>"},
		"important":        {`<svg><style>rect{fill:red!important}</style><rect style="fill:blue"/></svg>`, `<svg><style>rect{fill:#1d6a72!important}</style><rect style="fill:blue"/></svg>`},
		"inherited":        {`<svg><g stroke="red"><g><line x2="9"/></g></g></svg>`, `<svg><g stroke="#1d6a72"><g><line x2="9"/></g></g></svg>`},
		"currentColor":     {`<svg color="red"><path fill="currentColor"/></svg>`, `<svg color="#1d6a72"><path fill="currentColor"/></svg>`},
		"gradient":         {`<svg><linearGradient id="g"><stop stop-color="red"/><stop stop-color="blue"/></linearGradient><rect fill="url(#g)"/></svg>`, `<svg><linearGradient id="g"><stop stop-color="#1d6a72"/><stop stop-color="blue"/></linearGradient><rect fill="url(#g)"/></svg>`},
		"use":              {`<svg><defs><path id="p" d="M0 0h9"/></defs><use href="#p" fill="red"/></svg>`, `<svg><defs><path id="p" d="M0 0h9"/></defs><use href="#p" fill="#1d6a72"/></svg>`},
		"symbol":           {`<svg><symbol id="s"><path fill="red"/></symbol><use href="#s"/></svg>`, `<svg><symbol id="s"><path fill="#1d6a72"/></symbol><use href="#s"/></svg>`},
		"custom property":  {`<svg style="--brand: red"><path fill="var(--brand)"/></svg>`, `<svg style="--brand: #1d6a72"><path fill="var(--brand)"/></svg>`},
		"fallback":         {`<svg><path style="fill:var(--none, red)"/></svg>`, `<svg><path style="fill:var(--none, #1d6a72)"/></svg>`},
		"entity":           {`<!DOCTYPE svg [<!ENTITY st0 "fill:red;">]><svg><path style="&st0;"/></svg>`, `<!DOCTYPE svg [<!ENTITY st0 "fill:red;">]><svg><path style="fill:#1d6a72;"/></svg>`},
		"mask stays":       {`<svg><mask id="m"><rect fill="red"/></mask><rect fill="red" mask="url(#m)"/></svg>`, `<svg><mask id="m"><rect fill="red"/></mask><rect fill="#1d6a72" mask="url(#m)"/></svg>`},
		"mask's rule":      {`<svg><style>.a{fill:red}</style><mask id="m"><rect class="a"/></mask><rect class="a"/></svg>`, `<svg><style>.a{fill:red}</style><mask id="m"><rect class="a"/></mask><rect class="a" style="fill:#1d6a72"/></svg>`},
		"no other colour":  {`<svg><rect fill="#fe0000"/><text>red</text><!-- fill="red" --></svg>`, `<svg><rect fill="#fe0000"/><text>red</text><!-- fill="red" --></svg>`},
		"complex selector": {`<svg><style>g > rect:first-child, :hover {fill:red}</style><g><rect/><rect/></g></svg>`, `<svg><style>g > rect:first-child, :hover {fill:#1d6a72}</style><g><rect/><rect/></g></svg>`},
		"wide gamut":       {`<svg><rect fill="color(srgb 1 0 0)"/></svg>`, `<svg><rect fill="#1d6a72"/></svg>`},
	} {
		t.Run(name, func(t *testing.T) { assert.Equal(t, c.want, recoloured(t, c.src, "#f00", "#1d6a72")) })
	}
	assert.Equal(t, `<svg><rect fill="#1d6a72"/><path fill="#ffffff"/></svg>`, recoloured(t, `<svg><rect/><path fill="#ffffff"/></svg>`, "black", "#1d6a72"), "black by default gets a colour of its own")
}

// TestSharedRules: a rule that serves what changes and what stays gets the smallest override.
func TestSharedRules(t *testing.T) {
	for name, c := range map[string]struct{ src, want string }{
		"sheet":     {`<svg><style>.a{fill:red}</style><rect id="x" class="a"/><rect class="a"/></svg>`, `<svg><style>.a{fill:red}</style><rect id="x" class="a" style="fill:#1d6a72"/><rect class="a"/></svg>`},
		"important": {`<svg><style>.a{fill:red!important}</style><rect id="x" class="a" style="opacity:1"/><rect class="a"/></svg>`, `<svg><style>.a{fill:red!important}</style><rect id="x" class="a" style="opacity:1;fill:#1d6a72 !important"/><rect class="a"/></svg>`},
		"group":     {`<svg><g fill="red"><rect id="x"/><rect/></g></svg>`, `<svg><g fill="red"><rect id="x" fill="#1d6a72"/><rect/></g></svg>`},
		"inside":    {`<svg><g fill="red"><text id="x">a<tspan>b</tspan></text></g></svg>`, `<svg><g fill="red"><text id="x" fill="#1d6a72">a<tspan fill="#ff0000">b</tspan></text></g></svg>`},
	} {
		t.Run(name, func(t *testing.T) {
			d, err := Parse([]byte(c.src))
			require.NoError(t, err)
			r := d.Recolour(map[string]colour.Lab{"#ff0000": lab(t, "#1d6a72")}, func(it Item) bool {
				v, _ := d.Elements[it.Element].Attr("id")
				return v == "x"
			})
			assert.Equal(t, c.want, string(r.Source))
		})
	}
}

// TestHostileFiles: what could run or fetch is gone, and said; what could grow without end is refused.
func TestHostileFiles(t *testing.T) {
	for _, c := range []struct{ src, want, said string }{
		{`<svg><script>alert(1)</script><rect fill="red"/></svg>`, `<svg><rect fill="red"/></svg>`, "the element script"},
		{`<svg><rect onclick="a()" fill="red" OnLoad='b()'/></svg>`, `<svg><rect fill="red"/></svg>`, "event handler"},
		{`<svg><image href="http://a.example/b.png"/><use xlink:href="other.svg#a"/></svg>`, `<svg><image/><use/></svg>`, "reference to another file (2 times)"},
		{`<svg><a href="javascript:alert(1)"><rect/></a></svg>`, `<svg><a><rect/></a></svg>`, "reference"},
		{`<svg><a href="java&#10;script:alert(1)"><rect/></a></svg>`, `<svg><a><rect/></a></svg>`, "reference"},
		{`<?xml-stylesheet href="a.css"?><svg/>`, `<svg/>`, "style sheet in another file"},
		{`<svg><style>@import "a.css"; rect{fill:red; mask:url(http://a.example/x)}</style></svg>`, `<svg><style> rect{fill:red;}</style></svg>`, "style that refers"},
		{`<svg><rect style="fill:url(//a.example/#g)"/></svg>`, `<svg><rect/></svg>`, "style that refers"},
		{`<svg><foreignObject><div xmlns="http://www.w3.org/1999/xhtml">x</div></foreignObject></svg>`, `<svg></svg>`, "foreignObject"},
		{`<svg><set attributeName="xlink:href" to="javascript:1"/></svg>`, `<svg></svg>`, "animation"},
	} {
		d, err := Parse([]byte(c.src))
		require.NoError(t, err, c.src)
		assert.Equal(t, c.want, string(d.Source))
		assert.Contains(t, strings.Join(d.LeftOut, "; "), c.said)
	}
	for _, c := range []struct{ src, said string }{
		{`<!DOCTYPE svg [<!ENTITY a "xx"><!ENTITY b "&a;&a;">]><svg/>`, "grow without end"},
		{`<!DOCTYPE svg [<!ENTITY a SYSTEM "file:///etc/passwd">]><svg>&a;</svg>`, "another file"},
		{`<!DOCTYPE svg [<!ENTITY a "<script/>">]><svg/>`, "markup"},
		{strings.Repeat("<g>", 3), "never closed"},
		{"<svg>" + strings.Repeat("<g>", 2000) + strings.Repeat("</g>", 2000) + "</svg>", "deep"},
		{`<html/>`, "root is html"},
		{`<svg><g></svg>`, "line 1"},
		{``, "no element"},
		{"<svg>\n\n<rect fill=red/></svg>", "line 3"},
	} {
		_, err := Parse([]byte(c.src))
		assert.ErrorContains(t, err, c.said, c.src)
	}
	d, err := Parse([]byte(`<svg><style>rect{fill:url("#g");mask:url(#m)}</style><rect style="fill:url('#g')" clip-path="url(#c)"/><image href="data:image/png;base64,AAAA"/></svg>`))
	require.NoError(t, err)
	assert.Empty(t, d.LeftOut, "references within the file stay")
	assert.Len(t, d.Images, 1)
	_, err = Parse([]byte(`<svg viewBox="0 0 1e400 1e400" width="1e308"><rect width="1e309" height="-1e309"/><path d="M1e999 1e999L-1e999 0zA1 1 1 1 1 1e308 1e308"/></svg>`))
	require.NoError(t, err, "enormous numbers are numbers")
}

// TestTintsKeepTheirOrder: lighter stays lighter, and the main member gets the target.
func TestTintsKeepTheirOrder(t *testing.T) {
	var f Family
	f.Main, f.How = "#2e7d32", Tints
	var members []colour.Lab
	for _, k := range []string{"#0b2e0d", "#1b5e20", "#2e7d32", "#4caf50", "#81c784", "#c8e6c9", "#e8f5e9"} {
		members = append(members, lab(t, k))
	}
	for _, target := range []string{"#1d6a72", "#ffffff", "#000000", "#ffd400", "#20242b", "#f1ead8", "#0000ff", "#ff00ff"} {
		f.Target = target
		out := f.follow(members)
		assert.Less(t, colour.DeltaE00(out[2], lab(t, target)), 0.01, "the main member is the target")
		for i := 1; i < len(out); i++ {
			assert.GreaterOrEqual(t, oklab(out[i])[0], oklab(out[i-1])[0]-0.004, "%s: %d", target, i)
			assert.True(t, colour.InGamut(colour.SRGB.Linear(out[i])))
		}
	}
}

func FuzzParse(f *testing.F) {
	for _, s := range []string{`<svg><rect fill="red"/></svg>`, `<!DOCTYPE svg [<!ENTITY a "fill:red">]><svg><style>a>b{fill:red}</style><g style="&a;"/></svg>`,
		`<svg xmlns="http://www.w3.org/2000/svg"><style>@media screen{.a{fill:url(x)}}</style><use href="#a"/><path d="M0 0a1 1 0 012 2z" transform="rotate(9)"/></svg>`} {
		f.Add([]byte(s))
	}
	f.Fuzz(func(t *testing.T, b []byte) {
		d, err := Parse(b)
		if err != nil {
			return
		}
		again, err := Parse(d.Source)
		require.NoError(t, err, "what was made safe is read again")
		require.Empty(t, again.LeftOut, "and nothing dangerous is left in it")
		require.Equal(t, string(d.Source), string(d.Recolour(nil, nil).Source))
		for _, c := range d.Colours {
			r := d.Recolour(map[string]colour.Lab{c.Key: {50, 20, 20}}, nil)
			back, err := Parse(r.Source)
			require.NoError(t, err)
			for _, x := range back.Colours {
				require.NotEqual(t, c.Key, x.Key, "the old colour is gone")
			}
		}
	})
}

// TestBoards: views, nested drawings and groups at the top are boards; a drawing with few things in groups is one.
func TestBoards(t *testing.T) {
	names := func(src string) (out []string) {
		d, err := Parse([]byte(src))
		require.NoError(t, err)
		n := 0
		for _, b := range d.Boards() {
			out = append(out, b.Name)
			for i := range d.Items {
				if b.Holds(d, &d.Items[i]) {
					n++
				}
			}
		}
		assert.Equal(t, len(d.Items), n, "each thing is on one board")
		return out
	}
	assert.Equal(t, []string{"Front", "Back"}, names(`<svg viewBox="0 0 20 10"><view id="Front" viewBox="0 0 10 10"/><view id="Back" viewBox="10 0 10 10"/><rect width="4" height="4"/><rect x="12" width="4" height="4"/></svg>`))
	assert.Equal(t, []string{"One", "Board 2"}, names(`<svg viewBox="0 0 20 10"><svg width="10" height="10"><title>One</title><rect width="4" height="4"/></svg><svg x="10" width="10" height="10"><rect width="4" height="4"/></svg></svg>`))
	assert.Equal(t, []string{"a", "a 2"}, names(`<svg viewBox="0 0 20 10"><g id="a"><rect width="4" height="4"/></g><g id="a"><rect x="12" width="4" height="4"/></g></svg>`))
	assert.Equal(t, []string{"Drawing"}, names(`<svg viewBox="0 0 20 10"><rect width="4" height="4"/><rect width="4" height="4"/><g id="a"><rect width="4" height="4"/></g><g id="b"><rect width="4" height="4"/></g></svg>`))
}

// TestAreasAreMeasured: of shapes whose area is known, through transforms.
func TestAreasAreMeasured(t *testing.T) {
	for src, want := range map[string]float64{
		`<rect width="4" height="3"/>`: 12, `<circle r="10"/>`: 314.16, `<polygon points="0,0 4,0 0,3"/>`: 6,
		`<path d="M0 0h4v3H0z"/>`: 12, `<path d="m1 1 4 0 0 3-4 0z"/>`: 12, `<path d="M0 0C0 10 10 10 10 0z"/>`: 60,
		`<g transform="scale(2 3) rotate(30)"><rect width="1" height="1"/></g>`: 6, `<svg viewBox="0 0 10 10" width="20" height="20"><rect width="1" height="1"/></svg>`: 4,
	} {
		d, err := Parse([]byte(`<svg viewBox="0 0 100 100">` + src + `</svg>`))
		require.NoError(t, err)
		require.Len(t, d.Items, 1, src)
		assert.InEpsilon(t, want, d.Items[0].Area, 0.05, src)
	}
}
