package artwork

import (
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
