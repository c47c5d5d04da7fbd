package export

import (
	"fmt"
	"strings"
	"unicode"

	"episema/imagefile"
)

// Patterns may hold these; what they stand for has no slashes.
const (
	markPicture   = "{picture}"
	markColourway = "{colourway}"
	markNumber    = "{number}"
	asSet         = "as set" // the colourway's name where there is none
)

// byDefault names files by picture and colourway.
const byDefault = "{picture} {colourway}"

// Ending is how names of a format end; empty for one that is not delivered.
func Ending(format string) string {
	switch format {
	case "ora":
		return ".ora"
	case "masks":
		return ".masks.zip"
	case "svg", "pdf":
		return "." + format
	}
	return imagefile.Formats[format]
}

// Name fills a pattern in; what no file system takes is left out.
func Name(pattern, picture, colourway string, number int) string {
	if strings.TrimSpace(pattern) == "" {
		if pattern = byDefault; colourway == "" {
			pattern = markPicture
		}
	}
	if colourway == "" {
		colourway = asSet
	}
	n := strings.NewReplacer(markPicture, picture, markColourway, colourway, markNumber, fmt.Sprintf("%03d", number)).Replace(pattern)
	n = strings.Map(func(r rune) rune {
		if strings.ContainsRune(`/\:*?"<>|`, r) {
			return '-'
		}
		if unicode.IsControl(r) {
			return -1
		}
		return r
	}, n)
	n = strings.Trim(strings.TrimSpace(n), ".")
	if r := []rune(n); len(r) > 150 {
		n = string(r[:150])
	}
	if n == "" {
		n = "picture"
	}
	return n
}

// Plain fills in the name of a thing that is in no colourway.
func Plain(name string) string { return Name(markPicture, name, "", 1) }
