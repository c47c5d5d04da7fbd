package api

import (
	"bytes"
	"context"
	"encoding/json"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"
)

const (
	mostInPage    = 64 << 10 // bytes of a picture's JSON that its page brings; a longer one comes beside the quick look
	longestInPage = 200 * time.Millisecond
)

// opening sends the page of a picture with the picture in it, so that the page's own script can ask for the stage's first view at once. It
// reports false, and sends nothing, where the page is another's, or the picture cannot be had soon: the page asks for it then, and says what is wrong.
func (s *Server) opening(c *gin.Context) bool {
	name, ok := strings.CutPrefix(c.Request.URL.Path, "/pictures/")
	id, err := uuid.Parse(name)
	if !ok || err != nil || s.files.page == nil || s.Studio == nil {
		return false
	}
	ctx, cancel := context.WithTimeout(c, longestInPage)
	defer cancel()
	got, err := s.GetPicture(ctx, GetPictureRequestObject{Picture: id})
	if err != nil {
		return false
	}
	picture, err := json.Marshal(got)
	if err != nil || len(picture) > mostInPage {
		return false
	}
	c.Header("Cache-Control", "no-store") // going back to it, it would be the picture of then
	c.Data(http.StatusOK, "text/html; charset=utf-8", s.files.with(picture))
	return true
}

// with returns the page with data before its own script, which reads it.
func (s *static) with(data []byte) []byte {
	before, after, _ := bytes.Cut(s.page, []byte("<script>"))
	var b bytes.Buffer
	b.Grow(len(s.page) + len(data) + len(data)/8 + 64)
	b.Write(before)
	b.WriteString(`<script type="application/json" id="picture">`)
	json.HTMLEscape(&b, data) // nothing in it ends the element
	b.WriteString(`</script><script>`)
	b.Write(after)
	return b.Bytes()
}
