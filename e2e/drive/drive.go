// Package drive drives the real interface in headless Chromium, for the end-to-end tests and the screenshots.
package drive

import (
	"context"
	"fmt"
	"math"
	"os"
	"slices"
	"strings"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/target"
	"github.com/chromedp/chromedp"
)

// Browser is a tab of Chromium with an empty profile.
type Browser struct {
	Ctx     context.Context
	profile cdp.BrowserContextID // empty: the one Chromium was started with
	close   []func()
}

// Open starts Chromium with a window of the size.
func Open(ctx context.Context, width, height int) (*Browser, error) {
	dir, err := os.MkdirTemp("", "episema-chromium-*")
	if err != nil {
		return nil, err
	}
	b := &Browser{close: []func(){func() { os.RemoveAll(dir) }}}
	opts := append(chromedp.DefaultExecAllocatorOptions[:], chromedp.ExecPath("/usr/bin/chromium"), chromedp.UserDataDir(dir), chromedp.NoSandbox,
		chromedp.DisableGPU, chromedp.NoFirstRun, chromedp.WindowSize(width, height), chromedp.Flag("disable-quic", true),
		chromedp.Flag("disable-background-networking", true), chromedp.Flag("disable-component-update", true), chromedp.Flag("disable-sync", true),
		chromedp.Flag("hide-scrollbars", false))
	alloc, stopAlloc := chromedp.NewExecAllocator(ctx, opts...)
	tab, stopTab := chromedp.NewContext(alloc)
	b.Ctx = tab
	b.close = append(b.close, stopAlloc, stopTab)
	if err := chromedp.Do(tab, chromedp.EmulateViewport(int64(width), int64(height))); err != nil {
		b.Close()
		return nil, err
	}
	return b, nil
}

// Profile opens a tab in the same Chromium that shares nothing with the others: an empty profile of its own.
func (b *Browser) Profile(width, height int) (*Browser, error) {
	made, err := chromedp.CallBrowser(b.Ctx, target.CreateBrowserContext, target.CreateBrowserContextParams{})
	if err != nil {
		return nil, err
	}
	profile := made.BrowserContextID
	end := func() {
		// Chromium ends some time later anyway.
		_, _ = chromedp.CallBrowser(b.Ctx, target.DisposeBrowserContext, target.DisposeBrowserContextParams{BrowserContextID: profile})
	}
	p, err := (&Browser{Ctx: b.Ctx, profile: profile}).tab(true)
	if err != nil {
		end()
		return nil, err
	}
	p.close = append([]func(){end}, p.close...)
	if err := chromedp.Do(p.Ctx, chromedp.EmulateViewport(int64(width), int64(height))); err != nil {
		p.Close()
		return nil, err
	}
	return p, nil
}

// tab opens a tab with the same profile. The first of a profile needs a window of its own.
func (b *Browser) tab(window bool) (*Browser, error) {
	made, err := chromedp.CallBrowser(b.Ctx, target.CreateTarget, target.CreateTargetParams{URL: "about:blank", BrowserContextID: b.profile, NewWindow: &window})
	if err != nil {
		return nil, err
	}
	tab, stop := chromedp.NewContext(b.Ctx, chromedp.WithTargetID(made.TargetID))
	t := &Browser{Ctx: tab, profile: b.profile, close: []func(){stop}}
	return t, chromedp.Do(tab)
}

// Tab opens another tab of the same browser.
func (b *Browser) Tab() (*Browser, error) { return b.tab(false) }

// Close ends the browser and removes its profile.
func (b *Browser) Close() {
	for i := len(b.close) - 1; i >= 0; i-- {
		b.close[i]()
	}
}

// limit is how long a page may take for what it is asked.
const limit = 150 * time.Second

// Do runs actions, each call with a time limit.
func (b *Browser) Do(actions ...Action) error {
	ctx, stop := context.WithTimeout(b.Ctx, limit)
	defer stop()
	return chromedp.Do(ctx, actions...)
}

// Eval evaluates an expression of the page.
func Eval[T any](b *Browser, js string) (T, error) { return run(b, chromedp.Evaluate[T](js)) }

// Await evaluates an expression of the page and waits for the promise that it is.
func Await[T any](b *Browser, js string) (T, error) {
	return run(b, chromedp.Evaluate[T](js, chromedp.EvalAwaitPromise))
}

func run[T any](b *Browser, a chromedp.Action[T]) (T, error) {
	ctx, stop := context.WithTimeout(b.Ctx, limit)
	defer stop()
	return chromedp.Run(ctx, a)
}

// Until waits for an expression of the page to become true.
func (b *Browser) Until(js string) error {
	return b.again(func() error {
		return b.Do(chromedp.Poll[chromedp.Void](js, chromedp.WithPollingTimeout(limit-10*time.Second), chromedp.WithPollingInterval(40*time.Millisecond)))
	})
}

// Drawn waits until the page has had the time to draw what was done a moment ago.
func (b *Browser) Drawn() error {
	return b.frames(120)
}

// frames waits for two frames and some milliseconds more. A tab behind another draws none: it waits a moment.
func (b *Browser) frames(more int) error {
	drawn := fmt.Sprintf(`new Promise((done) => {
		const soon = () => setTimeout(() => done(true), %d);
		if (document.visibilityState === "hidden") setTimeout(soon, 40); else requestAnimationFrame(() => requestAnimationFrame(soon)) })`, more)
	_, err := Await[bool](b, drawn)
	return err
}

// Settled waits until the stage shows exactly what was asked of it and every edit is stored.
func (b *Browser) Settled() error { return b.again(b.settled) }

// again waits anew where the page was just being loaded anew.
func (b *Browser) again(wait func() error) error {
	for tries := 1; ; tries++ {
		err := wait()
		if err == nil || tries == 5 || !wentOn(err) {
			return err
		}
	}
}

// wentOn reports whether an expression had no answer since the page was just being loaded anew.
func wentOn(err error) bool {
	return strings.Contains(err.Error(), "navigated or closed") || strings.Contains(err.Error(), "context was destroyed") || strings.Contains(err.Error(), "Cannot find context")
}

func (b *Browser) settled() error {
	if err := b.Drawn(); err != nil {
		return err
	}
	return b.Until(`(() => { const c = document.querySelector("canvas"); const s = document.querySelector("[data-saving]");
		return !!c && c.dataset.settled === "true" && Number(c.dataset.frames) > 0 && s && s.dataset.saving === "saved" })()`)
}

// Click presses the first element with an accessible role and name (a button, tab, link ...).
func (b *Browser) Click(name string) error {
	js := fmt.Sprintf(`(() => { const all = [...document.querySelectorAll("button,a,label,summary,[role=tab],[role=radio],[role=button],[role=menuitem]")];
		const free = all.filter((e) => !e.disabled && e.getClientRects().length > 0 && !e.closest("[inert],[aria-hidden=true]")); // behind a dialog nothing is pressed
		const e = free.find((e) => e.getAttribute("aria-label") === %[1]q || e.textContent.trim() === %[1]q) ?? free.find((e) => e.textContent.trim().startsWith(%[1]q));
		if (!e) return null; e.scrollIntoView({block: "nearest"}); const r = e.getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2] })()`, name)
	if err := b.Until(js + " !== null"); err != nil {
		return fmt.Errorf("no %q to press: %w", name, err)
	}
	// A menu that has just opened is placed a frame later: where it stands still it is pressed.
	var at []float64
	for range 50 {
		was := at
		var err error
		if at, err = Eval[[]float64](b, js); err != nil {
			return err
		}
		if at != nil && slices.Equal(was, at) {
			return b.Do(chromedp.MouseClickXY(at[0], at[1]))
		}
		if err := b.frames(0); err != nil {
			return err
		}
	}
	return fmt.Errorf("%q does not stand still", name)
}

// OnStage gives the point of the window at which a point of the picture lies while it is fitted.
func (b *Browser) OnStage(x, y, width, height float64) (float64, float64, error) {
	r, err := Eval[[]float64](b, `(() => { const c = document.querySelector("canvas"); const r = c.getBoundingClientRect(); return [r.x, r.y, c.width, c.height, devicePixelRatio] })()`)
	if err != nil {
		return 0, 0, err
	}
	pad := 24 * r[4]
	zoom := math.Min(math.Min((r[2]-2*pad)/width, (r[3]-2*pad)/height), 1)
	left, top := math.Round((r[2]-width*zoom)/2), math.Round((r[3]-height*zoom)/2)
	return r[0] + (left+x*zoom)/r[4], r[1] + (top+y*zoom)/r[4], nil
}

// Stroke drags over the stage through points of the picture, slowly enough to be many events.
func (b *Browser) Stroke(width, height float64, modifiers Modifier, points ...[2]float64) error {
	var path [][2]float64
	for i, p := range points {
		x, y, err := b.OnStage(p[0], p[1], width, height)
		if err != nil {
			return err
		}
		if i > 0 {
			last := path[len(path)-1]
			const steps = 12
			for s := 1; s < steps; s++ {
				t := float64(s) / steps
				path = append(path, [2]float64{last[0] + (x-last[0])*t, last[1] + (y-last[1])*t})
			}
		}
		path = append(path, [2]float64{x, y})
	}
	return b.Drag(modifiers, path)
}

// Drag presses at the first point of the window, moves through the others and lets go at the last.
func (b *Browser) Drag(modifiers Modifier, path [][2]float64) error {
	actions := []Action{Mouse(Moved, path[0][0], path[0][1]), Mouse(Pressed, path[0][0], path[0][1], modifiers)}
	for _, p := range path[1:] {
		actions = append(actions, Mouse(Dragged, p[0], p[1], modifiers))
	}
	last := path[len(path)-1]
	actions = append(actions, Mouse(Released, last[0], last[1], modifiers))
	return b.Do(actions...)
}

// Shot saves the window as PNG.
func (b *Browser) Shot(path string) error {
	png, err := run(b, chromedp.CaptureScreenshot())
	if err != nil {
		return err
	}
	return os.WriteFile(path, png, 0o644)
}
