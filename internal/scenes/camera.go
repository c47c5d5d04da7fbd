package scenes

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"math"
	"math/rand"

	"episema/core/colour"
	"episema/core/raster"
)

// Clean is what an ideal camera makes of linear light: coded for sRGB in 8 bits, with a little even noise.
func Clean(p *raster.RGB, seed int64) *raster.RGB {
	r := rand.New(rand.NewSource(seed))
	o := raster.NewRGB(p.W, p.H)
	for i, v := range p.Pix {
		c := float64(colour.Coded32(min(1, v)))*255 + r.NormFloat64()*1.2
		o.Pix[i] = colour.Light8[uint8(math.Max(0, math.Min(255, math.Round(c))))]
	}
	return o
}

// What the camera does. They are of the order that photographs of small cameras show; common practice, no source.
const (
	cameraWhite    = 6104.0 // kelvin the camera took the light for; it was D65
	cameraExposure = 0.78
	cameraSharpen  = 0.45 // share of the difference to a blur of sigma cameraRadius
	cameraRadius   = 1.0  // pixels
	cameraShot     = 2e-4 // variance of the noise over the light
	cameraRead     = 2e-3 // standard deviation of the noise in the dark
	cameraQuality  = 85
)

// Camera takes linear light through what a small camera does: exposure, a white balance that is off by some 400 K, sensor
// noise, a filmic tone curve with toe and shoulder, sharpening, and JPEG 4:2:0 of quality 85. Two pictures taken with
// one seed get the same deviates of noise. The answer is what a program reads of the file, decoded as sRGB.
func Camera(p *raster.RGB, seed int64) *raster.RGB {
	b := CameraJPEG(p, seed)
	img, err := jpeg.Decode(bytes.NewReader(b))
	if err != nil {
		panic(err) // it was written a moment ago
	}
	return FromImage(img, Coded8)
}

// CameraJPEG is the file that Camera reads again.
func CameraJPEG(p *raster.RGB, seed int64) []byte {
	r := rand.New(rand.NewSource(seed))
	gain := whiteGain(cameraWhite)
	coded := make([]float64, len(p.Pix))
	for i, v := range p.Pix {
		x := float64(v) * cameraExposure * gain[i%3]
		x += r.NormFloat64() * math.Sqrt(cameraShot*math.Max(x, 0)+cameraRead*cameraRead)
		coded[i] = float64(colour.Coded32(float32(filmic(math.Max(0, x)))))
	}
	sharpen(coded, p.W, p.H)
	img := image.NewRGBA(image.Rect(0, 0, p.W, p.H))
	for y := range p.H {
		for x := range p.W {
			i := 3 * (y*p.W + x)
			q := func(v float64) uint8 { return uint8(math.Max(0, math.Min(255, math.Round(v*255)))) }
			img.SetRGBA(x, y, color.RGBA{q(coded[i]), q(coded[i+1]), q(coded[i+2]), 255})
		}
	}
	var b bytes.Buffer
	if err := jpeg.Encode(&b, img, &jpeg.Options{Quality: cameraQuality}); err != nil { // 4:2:0 is what it writes
		panic(err)
	}
	return b.Bytes()
}

// filmic is a tone curve with a toe and a shoulder: the rational fit to a reference film curve that Narkowicz published
// (2015), for linear light to linear light of the display. White at 1 comes out at 0.8.
func filmic(x float64) float64 {
	return math.Min(1, x*(2.51*x+0.03)/(x*(2.43*x+0.59)+0.14))
}

// whiteGain is what the channels are multiplied by when D65 is taken for daylight of another temperature: green stays.
// Chromaticities of daylight by CIE 15:2004, 3.1.
func whiteGain(kelvin float64) [3]float64 {
	rgb := func(t float64) colour.RGB {
		x := -4.6070e9/(t*t*t) + 2.9678e6/(t*t) + 0.09911e3/t + 0.244063
		y := -3*x*x + 2.87*x - 0.275
		X, Z := x/y, (1-x-y)/y
		return colour.RGB{3.2404542*X - 1.5371385 - 0.4985314*Z, -0.9692660*X + 1.8760108 + 0.0415560*Z, 0.0556434*X - 0.2040259 + 1.0572252*Z}
	}
	was, is := rgb(6504), rgb(kelvin)
	var g [3]float64
	for c := range g {
		g[c] = was[c] / is[c] * is[1] / was[1]
	}
	return g
}

// sharpen is an unsharp mask on coded values.
func sharpen(p []float64, w, h int) {
	for c := range 3 {
		soft := make([]float32, w*h)
		for i := range soft {
			soft[i] = float32(p[3*i+c])
		}
		raster.Gauss(soft, w, h, cameraRadius)
		for i, s := range soft {
			p[3*i+c] += cameraSharpen * (p[3*i+c] - float64(s))
		}
	}
}
