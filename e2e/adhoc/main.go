package main
import ("context";"log";"math";"time";"github.com/chromedp/chromedp";"github.com/chromedp/chromedp/kb";"episema/e2e/drive")
var _ = kb.Enter
func main() {
	b, err := drive.Open(context.Background(), 1280, 800); if err != nil { log.Fatal(err) }
	defer b.Close()
	step := func(what string, err error) { if err != nil { b.Shot("/tmp/failed.png"); log.Fatalf("%s: %v", what, err) } }
	const w, h = 1800, 1200
	step("open", b.Do(chromedp.Navigate("http://127.0.0.1:8601")))
	step("job", b.Until(`document.body.innerText.includes("Lisk")`))
	step("job", b.Click("Lisk Street Tramway shop"))
	step("m", b.Until(`document.images.length > 5`))
	step("open", b.Click("Depot mug"))
	step("stage", b.Settled())
	key := func(k string) { step(k, b.Do(chromedp.Focus("canvas", chromedp.ByQuery), chromedp.KeyEvent(k))) }
	step("np", b.Click("New part"))
	key("o")
	step("hand", b.Click("By hand"))
	step("s", b.Settled())
	var half [][2]float64
	for i := range 41 { a := -math.Pi + math.Pi*float64(i)/40; half = append(half, [2]float64{870 + 350*math.Cos(a)+4*math.Sin(7*a), 640 + 330*math.Sin(a)}) }
	step("draw", b.Stroke(w, h, 0, half...))
	time.Sleep(500*time.Millisecond)
	step("s", b.Settled())
	step("s", b.Shot("/tmp/h1.png"))
	var rest [][2]float64
	for i := range 41 { a := math.Pi*float64(i)/40; rest = append(rest, [2]float64{870 + 350*math.Cos(a), 640 + 400*math.Sin(a)}) }
	step("draw", b.Stroke(w, h, 0, rest...))
	time.Sleep(500*time.Millisecond)
	step("s", b.Settled())
	step("s", b.Shot("/tmp/h2.png"))
	step("u", b.Click("New part"))
	key("u")
	step("find", b.Click("Find the subject"))
	step("s", b.Until(`document.body.innerText.includes("offers the next")`))
	step("s", b.Settled())
	key("u")
	time.Sleep(800*time.Millisecond)
	step("s", b.Settled())
	step("s", b.Shot("/tmp/h3.png"))
}
