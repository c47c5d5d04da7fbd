package imagefile

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"
)

// mostPages is how many pages of a PDF are taken.
const mostPages = 50

// IsPages says whether a file is a PDF or PostScript by its first bytes.
func IsPages(path string) bool {
	f, err := os.Open(path)
	if err != nil {
		return false
	}
	defer f.Close()
	var b [1024]byte
	n, err := f.Read(b[:])
	if err != nil {
		return false
	}
	return bytes.Contains(b[:n], []byte("%PDF-")) || bytes.HasPrefix(b[:n], []byte("%!PS")) || bytes.HasPrefix(b[:n], []byte("\xc5\xd0\xd3\xc6"))
}

// limits are those of a converter's memory, in bytes, of its seconds of work, and of what it writes, in bytes.
var limits = []string{"prlimit", "--as=2560000000", "--cpu=50", "--fsize=1024000000"}

// apart are the arguments by which a program sees no network and no files but its folder, the system's programs and its fonts, has no
// rights, and ends with this process.
func apart(dir string) []string {
	how := []string{"bwrap", "--unshare-all", "--die-with-parent", "--new-session", "--cap-drop", "ALL", "--ro-bind", "/usr", "/usr"}
	for _, d := range []string{"/bin", "/lib", "/lib64"} {
		if to, err := os.Readlink(d); err == nil {
			how = append(how, "--symlink", to, d)
		} else {
			how = append(how, "--ro-bind-try", d, d)
		}
	}
	for _, d := range []string{"/etc/fonts", "/etc/ghostscript", "/etc/ld.so.cache", "/var/lib/ghostscript", "/var/cache/fontconfig"} {
		how = append(how, "--ro-bind-try", d, d)
	}
	return append(how, "--dev-bind", "/dev/null", "/dev/null", "--dev-bind", "/dev/urandom", "/dev/urandom", "--bind", dir, dir, "--chdir", dir, "--")
}

// mayBeApart says whether this system allows that.
var mayBeApart = sync.OnceValue(func() bool {
	dir, err := os.MkdirTemp("", "episema-apart-*")
	if err != nil {
		return false
	}
	defer os.RemoveAll(dir)
	return converter(context.Background(), apart(dir), dir, "/usr/bin/true").Run() == nil
})

// converter is a program in a folder, with limits, nothing of this process's environment, and confined as how says.
func converter(ctx context.Context, how []string, dir, path string, args ...string) *exec.Cmd {
	all := slices.Concat(limits, how, []string{path}, args)
	cmd := exec.CommandContext(ctx, all[0], all[1:]...)
	cmd.Dir = dir
	cmd.Env = []string{"PATH=/usr/sbin:/usr/bin:/sbin:/bin", "HOME=/nonexistent", "TMPDIR=" + dir}
	return cmd
}

// confined runs a converter apart where the system allows it, with limits on memory and time, and with nothing of this process's environment.
func confined(ctx context.Context, dir, name string, args ...string) ([]byte, error) {
	ctx, stop := context.WithTimeout(ctx, time.Minute)
	defer stop()
	path, err := exec.LookPath(name)
	if err != nil {
		return nil, fmt.Errorf("reading such files needs Debian's packages poppler-utils and ghostscript, which are not installed here (%s is missing)", name)
	}
	var how []string
	if mayBeApart() {
		how = apart(dir)
	}
	out, err := converter(ctx, how, dir, path, args...).CombinedOutput()
	if ctx.Err() != nil {
		return out, rejected("converting the file took longer than a minute; the file may be made to be slow")
	}
	var exit *exec.ExitError
	if errors.As(err, &exit) {
		return out, rejected("the file cannot be converted: %s", firstLine(string(out), err))
	}
	return out, err
}

var (
	pageCount = regexp.MustCompile(`(?m)^Pages:\s+(\d+)`)
	svgSize   = regexp.MustCompile(`viewBox="([-0-9.]+) ([-0-9.]+) ([-0-9.]+) ([-0-9.]+)"`)
	reference = regexp.MustCompile(`( id="|"#|url\(#)`)
)

// PagesToSVG converts a PDF or an EPS to SVG by Debian's poppler-utils and ghostscript. Several pages become nested
// drawings beside each other.
func PagesToSVG(ctx context.Context, path string) ([]byte, error) {
	dir, err := os.MkdirTemp("", "episema-pages-*")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	b, err := os.ReadFile(path)
	if err != nil {
		return nil, err
	}
	pdf := filepath.Join(dir, "in.pdf")
	if bytes.Contains(b[:min(len(b), 1024)], []byte("%PDF-")) {
		err = os.WriteFile(pdf, b, 0o600)
	} else {
		eps := filepath.Join(dir, "in.eps")
		if err = os.WriteFile(eps, b, 0o600); err == nil {
			_, err = confined(ctx, dir, "gs", "-q", "-dSAFER", "-dBATCH", "-dNOPAUSE", "-dEPSCrop", "-sDEVICE=pdfwrite", "-sOutputFile="+pdf, eps)
		}
	}
	if err != nil {
		return nil, err
	}
	said, err := confined(ctx, dir, "pdfinfo", pdf)
	if err != nil {
		return nil, err
	}
	n := 1
	if m := pageCount.FindSubmatch(said); m != nil {
		if n, err = strconv.Atoi(string(m[1])); err != nil {
			return nil, err
		}
	}
	if n < 1 || n > mostPages {
		return nil, rejected("the file has %d pages; 1 to %d are taken", n, mostPages)
	}
	var pages []string
	for k := 1; k <= n; k++ {
		out := filepath.Join(dir, fmt.Sprintf("%d.svg", k))
		if _, err := confined(ctx, dir, "pdftocairo", "-svg", "-f", strconv.Itoa(k), "-l", strconv.Itoa(k), pdf, out); err != nil {
			return nil, err
		}
		page, err := os.ReadFile(out)
		if err != nil {
			return nil, err
		}
		if n == 1 {
			return page, nil
		}
		pages = append(pages, string(page))
	}
	return joinPages(pages)
}

// joinPages puts pages beside each other; their ids are told apart.
func joinPages(pages []string) ([]byte, error) {
	var inner strings.Builder
	x, height := 0.0, 0.0
	const gap = 24
	for k, p := range pages {
		at := strings.Index(p, "<svg")
		m := svgSize.FindStringSubmatch(p)
		if at < 0 || m == nil {
			return nil, rejected("page %d cannot be converted", k+1)
		}
		w, err := strconv.ParseFloat(m[3], 64)
		if err != nil {
			return nil, err
		}
		h, err := strconv.ParseFloat(m[4], 64)
		if err != nil {
			return nil, err
		}
		body := p[at:]
		end := strings.IndexByte(body, '>')
		body = reference.ReplaceAllString(body[end+1:], fmt.Sprintf("${1}p%d-", k+1))
		fmt.Fprintf(&inner, `<svg id="page-%d" x="%g" y="0" width="%g" height="%g" viewBox="%s %s %s %s">`+"\n<title>Page %d</title>%s\n", k+1, x, w, h, m[1], m[2], m[3], m[4], k+1, body)
		x, height = x+w+gap, max(height, h)
	}
	return fmt.Appendf(nil, `<?xml version="1.0" encoding="UTF-8"?>`+"\n"+`<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="%g" height="%g" viewBox="0 0 %g %g">`+"\n%s</svg>\n", x-gap, height, x-gap, height, inner.String()), nil
}
