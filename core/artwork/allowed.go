package artwork

import "strings"

func set(names string) map[string]bool {
	m := map[string]bool{}
	for _, n := range strings.Fields(names) {
		m[n] = true
	}
	return m
}

// What stays of a drawing: the elements, attributes and properties of SVG 1.1 (Second Edition), SVG 2, Filter Effects,
// Masking, Compositing and CSS Text and Fonts that draw; written down from memory of their indexes. Whatever else a browser
// may give effect to, now or one day, is left out.
var (
	allowedElements = set(`svg g defs symbol use switch title desc metadata style a view
		path rect circle ellipse line polyline polygon image text tspan tref textPath altGlyph altGlyphDef altGlyphItem glyphRef
		marker pattern linearGradient radialGradient meshgradient meshrow meshpatch mesh hatch hatchpath solidcolor solidColor stop
		clipPath mask filter cursor color-profile font font-face font-face-src font-face-uri font-face-format font-face-name
		glyph missing-glyph hkern vkern flowRoot flowRegion flowPara flowSpan flowDiv flowLine flowRegionExclude
		feBlend feColorMatrix feComponentTransfer feComposite feConvolveMatrix feDiffuseLighting feDisplacementMap feDistantLight
		feDropShadow feFlood feFuncA feFuncB feFuncG feFuncR feGaussianBlur feImage feMerge feMergeNode feMorphology feOffset
		fePointLight feSpecularLighting feSpotLight feTile feTurbulence
		animate animateTransform animateMotion animateColor set mpath discard`)

	allowedAttributes = set(`id class style lang tabindex role type media title href src data path target rel download hreflang referrerpolicy
		version baseProfile contentScriptType contentStyleType viewBox preserveAspectRatio zoomAndPan width height x y z x1 y1 x2 y2
		cx cy r rx ry fx fy fr dx dy d points pathLength rotate textLength lengthAdjust startOffset method spacing side
		transform gradientTransform gradientUnits patternTransform patternUnits patternContentUnits hatchUnits hatchContentUnits pitch
		spreadMethod offset clipPathUnits maskUnits maskContentUnits filterUnits primitiveUnits filterRes markerUnits markerWidth
		markerHeight refX refY orient externalResourcesRequired requiredFeatures requiredExtensions systemLanguage viewTarget
		in in2 result mode values operator k1 k2 k3 k4 order kernelMatrix divisor bias targetX targetY edgeMode kernelUnitLength
		preserveAlpha surfaceScale diffuseConstant specularConstant specularExponent limitingConeAngle azimuth elevation pointsAtX
		pointsAtY pointsAtZ scale xChannelSelector yChannelSelector stdDeviation radius baseFrequency numOctaves seed stitchTiles
		tableValues slope intercept amplitude exponent crossOrigin crossorigin decoding fetchpriority name local rendering-intent
		attributeName attributeType begin dur end min max restart repeatCount repeatDur fill calcMode keyTimes keySplines keyPoints
		from to by additive accumulate origin enable-background
		horiz-origin-x horiz-origin-y horiz-adv-x vert-origin-x vert-origin-y vert-adv-y units-per-em panose-1 stemv stemh
		cap-height x-height accent-height ascent descent widths bbox ideographic alphabetic mathematical hanging v-ideographic
		v-alphabetic v-mathematical v-hanging underline-position underline-thickness strikethrough-position strikethrough-thickness
		overline-position overline-thickness unicode unicode-range glyph-name arabic-form glyphRef format string u1 u2 g1 g2 k
		space base xml:space xml:lang`)

	allowedProperties = set(`alignment-baseline background background-color baseline-shift border border-color clip clip-path clip-rule color
		color-interpolation color-interpolation-filters color-profile color-rendering color-scheme cursor cx cy d direction display
		dominant-baseline enable-background fill fill-opacity fill-rule filter flood-color flood-opacity font font-family
		font-feature-settings font-kerning font-language-override font-optical-sizing font-palette font-size font-size-adjust
		font-stretch font-style font-synthesis font-variant font-variant-alternates font-variant-caps font-variant-east-asian
		font-variant-ligatures font-variant-numeric font-variant-position font-variation-settings font-weight forced-color-adjust
		glyph-orientation-horizontal glyph-orientation-vertical height image-rendering inline-size isolation kerning letter-spacing
		lighting-color line-height line-height-step margin marker marker-end marker-mid marker-start mask mask-border mask-clip mask-composite
		mask-image mask-mode mask-origin mask-position mask-repeat mask-size mask-type mix-blend-mode opacity outline overflow
		padding paint-order pointer-events quotes r rx ry shape-image-threshold shape-inside shape-margin shape-padding shape-rendering
		shape-subtract solid-color solid-opacity stop-color stop-opacity stroke stroke-alignment stroke-dasharray stroke-dashoffset
		stroke-linecap stroke-linejoin stroke-miterlimit stroke-opacity stroke-width tab-size text-align text-align-all text-align-last
		text-anchor text-decoration text-decoration-color text-decoration-line text-decoration-style text-decoration-thickness
		text-decoration-fill text-decoration-stroke text-indent text-orientation text-overflow text-rendering text-shadow text-transform
		text-underline-offset text-underline-position transform transform-box transform-origin translate rotate scale
		unicode-bidi vector-effect vertical-align visibility white-space width word-spacing word-wrap overflow-wrap writing-mode x y
		src unicode-range font-display size-adjust ascent-override descent-override line-gap-override`)
)

// inertProperty reports whether a property cannot do more than draw: one of those that stay, a custom one, or one of a
// program that browsers do not know.
func inertProperty(name string) bool {
	name = strings.ToLower(name)
	if strings.HasPrefix(name, "--") || allowedProperties[name] {
		return true
	}
	if vendor, ok := strings.CutPrefix(name, "-"); ok {
		maker, plain, _ := strings.Cut(vendor, "-")
		switch maker {
		case "webkit", "moz", "ms", "o":
			return allowedProperties[plain]
		}
		return true
	}
	return false
}

// inertAttribute reports whether an attribute of an SVG element stays. One of a program's own namespace has no effect in a
// browser.
func inertAttribute(name string) bool {
	prefix, local, ok := strings.Cut(name, ":")
	switch {
	case !ok && strings.HasPrefix(name, "data-"), !ok && strings.HasPrefix(name, "aria-"):
		return true
	case !ok:
		return allowedAttributes[name] || allowedProperties[name]
	case prefix == "xml":
		return local == "space" || local == "lang"
	case prefix == "xlink":
		return set("href type role arcrole title show actuate")[local]
	}
	return true
}

// inertSpace reports whether browsers give no effect to elements of a namespace.
func inertSpace(space string) bool {
	if !strings.HasPrefix(space, "http://www.w3.org/") {
		return !strings.HasPrefix(space, "http://www.mozilla.org/")
	}
	return space == "http://www.w3.org/1999/02/22-rdf-syntax-ns#" || space == "http://www.w3.org/2000/svg"
}
