package artwork

import (
	"bytes"
	"runtime"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestADocumentTypeGivesNoElementAHandler(t *testing.T) {
	d, err := Parse([]byte(`<!DOCTYPE svg [<!ENTITY brand "#1d6a72"> <!ATTLIST svg onload CDATA "alert('>')"> <!ELEMENT svg ANY>]>
<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><rect width="9" height="9" fill="&brand;"/></svg>`))
	require.NoError(t, err)
	assert.NotContains(t, string(d.Source), "onload")
	assert.NotContains(t, string(d.Source), "ELEMENT")
	assert.Contains(t, string(d.Source), `<!ENTITY brand "#1d6a72">`, "what is harmless stays")
	assert.Len(t, d.Colours, 1)
	assert.NotEmpty(t, d.LeftOut)
}

func TestElementsOfOtherKindsThatBrowsersGiveEffectToAreLeftOut(t *testing.T) {
	d, err := Parse([]byte(`<svg xmlns="http://www.w3.org/2000/svg" xmlns:h="http://www.w3.org/1999/xhtml" xmlns:m="http://www.w3.org/1998/Math/MathML" xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#" width="9" height="9">
<h:style>@import url(http://example.invalid/a.css); rect { fill: red }</h:style><m:math><m:mtext>x</m:mtext></m:math><metadata><rdf:RDF/></metadata><rect width="9" height="9" fill="#123456"/></svg>`))
	require.NoError(t, err)
	assert.NotContains(t, string(d.Source), "h:style>")
	assert.NotContains(t, string(d.Source), "m:math")
	assert.Contains(t, string(d.Source), "<rdf:RDF/>", "what has no effect stays")
}

func TestUsesOfUsesAreReadOnce(t *testing.T) {
	var b strings.Builder
	b.WriteString(`<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><g id="n0"><rect width="9" height="9"/></g>`)
	for i := 1; i < 9; i++ {
		b.WriteString(`<g id="n` + string(rune('0'+i)) + `">` + strings.Repeat(`<use href="#n`+string(rune('0'+i-1))+`"/>`, 40) + `</g>`)
	}
	b.WriteString(`<use href="#n8" fill="#1d6a72"/></svg>`)
	d, err := Parse([]byte(b.String())) // 40 to the eighth, one by one
	require.NoError(t, err)
	found := false
	for _, c := range d.Colours {
		found = found || strings.Contains(strings.ToLower(c.Key), "1d6a72")
	}
	assert.True(t, found, "the fill of the outermost use is taken in")
}

func TestEntitiesDoNotGrowWithoutEnd(t *testing.T) {
	_, err := Parse([]byte(`<!DOCTYPE svg [<!ENTITY a "` + strings.Repeat("x", 4000) + `">]><svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><desc id="` + strings.Repeat("&a;", 20_000) + `"/></svg>`))
	assert.ErrorContains(t, err, "64 MB")
}

func TestOnlyWhatIsKnownToDrawStays(t *testing.T) {
	const in = `<svg xmlns="http://www.w3.org/2000/svg" xmlns:ed="http://example.invalid/editor" xmlns:xlink="http://www.w3.org/1999/xlink" width="9" height="9" style="position: fixed; fill: red; inset:0" autofocus="true" foo="bar">
<style>:root { position: fixed; inset: 0; z-index: 9 } rect:hover{fill:#00f;animation:a 1s} .a { Posit\69on : fixed; stroke : blue } @keyframes a { to { left: 9px } } @media print { .b { top: 1px; fill: lime } }</style>
<ed:view ed:page="1"/><dialog open="open">x</dialog><popover/><rect id="r" class="a b" data-k="1" aria-label="r" ed:label="x" width="9" height="9" style="fill:#123456;z-index:4;--mine:1;-ed-font:x" popovertarget="r"/></svg>`
	d, err := Parse([]byte(in))
	require.NoError(t, err)
	out := string(d.Source)
	for _, gone := range []string{"position", `Posit\69on`, "inset", "z-index", "animation:", "left:", "top:", "autofocus", "foo=", "<dialog", "<popover", "popovertarget"} {
		assert.NotContains(t, out, gone)
	}
	for _, stays := range []string{"fill: red", "rect:hover{fill:#00f;", "stroke : blue", "fill: lime", `<ed:view ed:page="1"/>`, `data-k="1"`, `aria-label="r"`, `ed:label="x"`, "fill:#123456;", "--mine:1;-ed-font:x", `class="a b"`} {
		assert.Contains(t, out, stays)
	}
	assert.Contains(t, d.LeftOut, "the property position (2 times)")
	again, err := Parse(d.Source)
	require.NoError(t, err)
	assert.Empty(t, again.LeftOut, "what was made safe is safe")
	assert.Equal(t, out, string(again.Source))
}

// Room for elements is taken ahead up to a bound: a file that begins very many and holds none asks for little more than itself.
func TestRoomForElementsIsBounded(t *testing.T) {
	src := bytes.Repeat([]byte("<"), 8<<20)
	var before, after runtime.MemStats
	runtime.ReadMemStats(&before)
	_, err := Parse(src)
	runtime.ReadMemStats(&after)
	require.Error(t, err)
	assert.Less(t, after.TotalAlloc-before.TotalAlloc, uint64(100<<20))
}
