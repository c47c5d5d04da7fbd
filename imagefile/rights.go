package imagefile

import (
	"bytes"
	"encoding/xml"
	"fmt"
	"slices"
	"strings"
)

// Rights say in a file whose the picture is. The zero value says nothing.
type Rights struct {
	Creator string `json:"creator,omitempty"` // dc:creator, and the Artist of Exif
	Notice  string `json:"notice,omitempty"`  // dc:rights, and the Copyright of Exif
	Terms   string `json:"terms,omitempty"`   // xmpRights:UsageTerms
	Web     string `json:"web,omitempty"`     // xmpRights:WebStatement
}

// description is the rights as XMP (ISO 16684-1): Dublin Core and the schema of rights management.
func (r Rights) description() string {
	if r == (Rights{}) {
		return ""
	}
	var b strings.Builder
	b.WriteString(`<rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:xmpRights="http://ns.adobe.com/xap/1.0/rights/"`)
	if r.Web != "" {
		fmt.Fprintf(&b, ` xmpRights:WebStatement="%s"`, escaped(r.Web))
	}
	b.WriteString(` xmpRights:Marked="True">`)
	if r.Creator != "" {
		fmt.Fprintf(&b, `<dc:creator><rdf:Seq><rdf:li>%s</rdf:li></rdf:Seq></dc:creator>`, escaped(r.Creator))
	}
	for _, q := range [][2]string{{"dc:rights", r.Notice}, {"xmpRights:UsageTerms", r.Terms}} {
		if q[1] != "" {
			fmt.Fprintf(&b, `<%s><rdf:Alt><rdf:li xml:lang="x-default">%s</rdf:li></rdf:Alt></%s>`, q[0], escaped(q[1]), q[0])
		}
	}
	b.WriteString(`</rdf:Description>`)
	return b.String()
}

// InSVG returns an SVG file that has the rights in a metadata element (SVG 2, 5.12) at its beginning; one that says nothing, or of which
// no root is found, is returned as it is.
func (r Rights) InSVG(svg []byte) []byte {
	description := r.description()
	if description == "" {
		return svg
	}
	d := xml.NewDecoder(bytes.NewReader(svg))
	d.Strict = false
	for {
		t, err := d.RawToken()
		if err != nil {
			return svg
		}
		if _, ok := t.(xml.StartElement); !ok {
			continue
		}
		at := d.InputOffset()
		if at < 2 || int(at) > len(svg) || svg[at-1] != '>' || svg[at-2] == '/' {
			return svg
		}
		metadata := `<metadata><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">` + description + `</rdf:RDF></metadata>`
		return slices.Concat(svg[:at], []byte(metadata), svg[at:])
	}
}

func escaped(s string) string {
	var b strings.Builder
	_ = xml.EscapeText(&b, []byte(s)) // a Builder takes everything
	return b.String()
}

// exifText is a text as Exif holds it: ASCII. What is none is left as a question mark, but for the sign of copyright.
func exifText(s string) string {
	s = strings.ReplaceAll(s, "©", "(c)")
	return strings.Map(func(r rune) rune {
		if r < 0x20 || r > 0x7e {
			return '?'
		}
		return r
	}, s)
}
