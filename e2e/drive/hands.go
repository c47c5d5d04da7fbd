package drive

import (
	"context"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
)

// Action is something that is done to a page.
type Action = chromedp.Action[chromedp.Void]

// Modifier is a key that is held while others are pressed, or the mouse is moved.
type Modifier = chromedp.Modifier

// The modifiers.
const (
	Alt   = kb.ModifierAlt
	Ctrl  = kb.ModifierCtrl
	Shift = kb.ModifierShift
)

// send makes an action of a command of the protocol, whose answer does not matter.
func send[P, R any](command cdp.Command[P, R], params P) Action {
	return chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		_, err := cdp.Call(ctx, t, command, params)
		return err
	})
}

// MouseKind is what the mouse does.
type MouseKind int

// What the mouse does: it moves with no button down, its left button goes down, it moves with that, and lets go.
const (
	Moved MouseKind = iota
	Pressed
	Dragged
	Released
)

// Mouse is one event of the mouse at a point of the window.
func Mouse(kind MouseKind, x, y float64, modifiers ...Modifier) Action {
	p := input.DispatchMouseEventParams{Type: chromedp.MouseMoved, X: x, Y: y, Modifiers: all(modifiers)}
	if kind != Moved {
		p.Button = input.MouseButtonLeft
	}
	switch kind {
	case Pressed:
		p.Type, p.Buttons, p.ClickCount = chromedp.MousePressed, 1, 1
	case Dragged:
		p.Buttons = 1
	case Released:
		p.Type, p.ClickCount = chromedp.MouseReleased, 1
	}
	return send(input.DispatchMouseEvent, p)
}

// wheel is an event of the wheel. (The protocol's own type leaves a way of nought out, which Chromium does not take.)
type wheel struct {
	Type      string  `json:"type"`
	X         float64 `json:"x"`
	Y         float64 `json:"y"`
	DeltaX    float64 `json:"deltaX"`
	DeltaY    float64 `json:"deltaY"`
	Modifiers int64   `json:"modifiers"`
}

// Wheel turns the wheel at a point of the window by so many pixels down.
func Wheel(x, y, down float64, modifiers ...Modifier) Action {
	turn := cdp.Command[wheel, cdp.Empty]{Method: input.CommandDispatchMouseEvent}
	return send(turn, wheel{Type: "mouseWheel", X: x, Y: y, DeltaY: down, Modifiers: all(modifiers)})
}

func all(modifiers []Modifier) (m int64) {
	for _, one := range modifiers {
		m |= int64(one)
	}
	return m
}

// TouchKind is what fingers do.
type TouchKind = input.DispatchTouchEventType

// What fingers do: one more comes down, they move, they are lifted.
const (
	TouchStart = input.DispatchTouchEventTypeTouchStart
	TouchMove  = input.DispatchTouchEventTypeTouchMove
	TouchEnd   = input.DispatchTouchEventTypeTouchEnd
)

// Touch is one event of the fingers that are down, each at a point of the window.
func Touch(kind TouchKind, fingers ...[2]float64) Action {
	points := []*input.TouchPoint{}
	for i, f := range fingers {
		id := float64(i + 1)
		points = append(points, &input.TouchPoint{X: f[0], Y: f[1], ID: &id})
	}
	return send(input.DispatchTouchEvent, input.DispatchTouchEventParams{Type: kind, TouchPoints: points})
}

// KeyDown presses a key and holds it; code is its place on the keyboard.
func KeyDown(key, code string) Action {
	return send(input.DispatchKeyEvent, input.DispatchKeyEventParams{Type: input.DispatchKeyEventTypeKeyDown, Key: key, Code: code, Text: key})
}

// KeyUp lets go of a key.
func KeyUp(key, code string) Action {
	return send(input.DispatchKeyEvent, input.DispatchKeyEventParams{Type: input.DispatchKeyEventTypeKeyUp, Key: key, Code: code})
}

// JS evaluates an expression of the page for what it does.
func JS(expression string) Action { return chromedp.Evaluate[chromedp.Void](expression) }

// Front brings a tab before the others of its window.
func Front() Action { return send(page.BringToFront, cdp.Empty{}) }

// line is what a page's line to the server is like. (Chromium's newer command for it takes rules, and has no line that is cut.)
type line struct {
	Offline            bool    `json:"offline"`
	Latency            float64 `json:"latency"`            // ms
	DownloadThroughput float64 `json:"downloadThroughput"` // bytes a second; -1: as it is
	UploadThroughput   float64 `json:"uploadThroughput"`
}

// Line makes a page's line to the server slow, or cuts it: latency in milliseconds, down and up in bytes a second, -1 for as it is.
func Line(cut bool, latency, down, up float64) Action {
	emulate := cdp.Command[line, cdp.Empty]{Method: "Network.emulateNetworkConditions"}
	return chromedp.Steps(send(network.Enable, network.EnableParams{}), send(emulate, line{cut, latency, down, up}))
}

// Block keeps a page from fetching what has addresses of the patterns; none lets it fetch all again.
func Block(patterns ...string) Action {
	list := []*network.BlockPattern{}
	for _, p := range patterns {
		list = append(list, &network.BlockPattern{URLPattern: p, Block: true})
	}
	return chromedp.Steps(send(network.Enable, network.EnableParams{}), send(network.SetBlockedURLs, network.SetBlockedURLsParams{URLPatterns: list}))
}
