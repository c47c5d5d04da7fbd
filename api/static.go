package api

import (
	"bytes"
	"cmp"
	"crypto/sha256"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"regexp"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
)

// pages are the modules of the front end that show a page, by the first part of its path. A picture's page names its own, once the picture is
// asked for (web/src/first).
var pages = map[string]string{
	"": "src/jobs/JobsPage.tsx", "jobs": "src/job/JobPage.tsx", "across": "src/job/AcrossPage.tsx", "sheet": "src/job/SheetPage.tsx",
}

// static sends the files of the front end: compressed where the build has such a form and the browser takes it, to be kept for ever
// where their names tell their contents. What is no file is a page: its links say early which modules it needs.
type static struct {
	files fs.FS
	links map[string]string // the Link header of each page
	page  []byte            // where it has a script of its own; else nil
	own   string            // the scripts that stand in the page itself, each as a hash-source of the Content-Security-Policy (CSP level 3)
}

// inPage finds the scripts that stand in a page.
var inPage = regexp.MustCompile(`(?s)<script>(.*?)</script>`)

// newStatic reads the build's manifest, which says what each page's module needs; without one there are no links.
func newStatic(files fs.FS) *static {
	s := &static{files: files, links: map[string]string{}}
	if page, err := fs.ReadFile(files, "index.html"); err == nil {
		scripts := inPage.FindAllSubmatch(page, -1)
		if len(scripts) > 0 {
			s.page = page
		}
		for _, script := range scripts {
			sum := sha256.Sum256(script[1])
			s.own += " 'sha256-" + base64.StdEncoding.EncodeToString(sum[:]) + "'"
		}
	}
	b, err := fs.ReadFile(files, ".vite/manifest.json")
	if err != nil {
		return s
	}
	type chunk struct {
		File    string   `json:"file"`
		Imports []string `json:"imports"`
	}
	var manifest map[string]chunk
	if json.Unmarshal(b, &manifest) != nil {
		return s
	}
	for page, module := range pages {
		var list []string
		var add func(key string)
		add = func(key string) {
			c, ok := manifest[key]
			link := fmt.Sprintf("</%s>; rel=modulepreload", c.File)
			if !ok || slices.Contains(list, link) {
				return
			}
			list = append(list, link)
			for _, i := range c.Imports {
				add(i)
			}
		}
		add(module)
		s.links[page] = strings.Join(list, ", ")
	}
	return s
}

// forms are the compressed forms, the smallest first: the name of the coding, and the ending of its files.
var forms = [][2]string{{"br", ".br"}, {"gzip", ".gz"}}

func (s *static) serve(c *gin.Context) {
	name := strings.TrimPrefix(path.Clean("/"+c.Request.URL.Path), "/")
	if info, err := fs.Stat(s.files, cmp.Or(name, ".")); name == "" || err != nil || info.IsDir() || strings.HasPrefix(name, ".") {
		first, _, _ := strings.Cut(name, "/")
		if l := s.links[first]; l != "" {
			c.Header("Link", l)
		}
		name = "index.html" // the front end finds its own way
	}
	if strings.HasPrefix(name, "assets/") {
		c.Header("Cache-Control", "public, max-age=31536000, immutable")
	} else {
		c.Header("Cache-Control", "no-cache")
	}
	if t := mime.TypeByExtension(path.Ext(name)); t != "" {
		c.Header("Content-Type", t)
	}
	for _, f := range forms {
		if b, err := fs.ReadFile(s.files, name+f[1]); err == nil {
			c.Writer.Header().Add("Vary", "Accept-Encoding")
			if takes(c.GetHeader("Accept-Encoding"), f[0]) {
				c.Header("Content-Encoding", f[0])
				http.ServeContent(c.Writer, c.Request, name, time.Time{}, bytes.NewReader(b))
				return
			}
		}
	}
	b, err := fs.ReadFile(s.files, name)
	if err != nil {
		c.Status(http.StatusNotFound)
		return
	}
	http.ServeContent(c.Writer, c.Request, name, time.Time{}, bytes.NewReader(b))
}

// takes reports whether an Accept-Encoding header (RFC 9110, 12.5.3) takes a coding.
func takes(header, coding string) bool {
	for v := range strings.SplitSeq(header, ",") {
		name, params, _ := strings.Cut(v, ";")
		if strings.EqualFold(strings.TrimSpace(name), coding) {
			q := strings.ReplaceAll(params, " ", "")
			return !strings.HasPrefix(q, "q=0") || strings.Trim(q[2:], "0.") != ""
		}
	}
	return false
}
