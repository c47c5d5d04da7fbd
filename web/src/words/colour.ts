import type { Said } from "./said";

/* The words of the face Colour, in the order of the files they stand in. */

// ByEye
export const chooseByEyeLabel = (label: Said) => `Choose by eye: ${label}`;
export const labelByEye = (label: Said) => `${label}, by eye`;

// CastBox
export const castOnTheNeighbours = "Cast on the neighbours";
export const turnTheCast = "turn the cast";
export const leaveTheCast = "leave the cast";
export const changeTheTintThatTheOld = "Change the tint that the old colour throws";
export const theTintIs = "The tint is";
export const whatBecomesOfTheCast = "What becomes of the cast";
export const castTakenAway = "cast taken away";
export const castTurned = "cast turned";
export const turned = "Turned";
export const takenAway = "Taken away";
export const amount = "Amount";
export const amountOfTheCast = "amount of the cast";
export const reach = "Reach";
export const px = "px";
export const reachOfTheCast = "reach of the cast";
export const strongestTintFoundCastOfThe = (cast: Said) => `Strongest tint found: ${cast} % of the light there.`;
export const noTintOfTheOldColour = "No tint of the old colour was found around the part.";

// ColourFace
export const noPartYetUnderIsolateDrag = "No part yet. Under Isolate, drag inside the thing whose colour shall change.";
export const inThePicture = "In the picture";
export const nothingSelected = "nothing selected";
export const leftAsItIs = "Left as it is";
export const fromItsOwn = "From its own";
export const setHere = "Set here";
export const coloursOfThePalette = "Colours of the palette";
export const colourName = (name: Said) => `colour ${name}`;
export const target = "Target";
export const targetColour = "Target colour";
export const n1d6a72Lab41219 = "#1d6a72, lab(41 -21 -9) …";
export const typedColour = "typed colour";
export const leaveAsItIs = "leave as it is";
export const clickThePicture = "Click the picture";
export const sample = "Sample";
export const measuredAs = "Measured as";
export const howTheTargetWasMeasured = "How the target was measured";
export const measuredUnderNeutralLight = "measured under neutral light";
export const asItLooksHere = "as it looks here";
export const seenHere = "Seen here";
export const neutralLight = "Neutral light";
export const ownColour = "Own colour";
export const ownColourOfTheThing = "Own colour of the thing";
export const estimated = "estimated";
export const ownColourLow = "own colour";
export const estimateOwnColour = "estimate own colour";
export const measureTheOwnColour = "Measure the own colour";
export const measure = "Measure";
export const useAsItsOwnColour = "Use as its own colour";
export const ownColourAsMeasured = "own colour as measured";
export const litTones = "Lit tones";
export const clipped = "Clipped";
export const outOfGamut = "Out of gamut";
export const leaveThisPartAsItIs = "Leave this part as it is";

// ColourField
export const theColourStaysAsItWas = "The colour stays as it was.";
export const nothingWasChanged = "Nothing was changed.";

// CurveEditor
export const toCyanDarker = "to cyan, darker";
export const toRedLighter = "to red, lighter";
export const toMagenta = "to magenta";
export const toGreen = "to green";
export const toYellow = "to yellow";
export const toBlue = "to blue";
export const moveAPoint = "move a point";
export const channel = "Channel";
export const all = "All";
export const red = "Red";
export const green = "Green";
export const blue = "Blue";
export const curveOfChannel = (channel: Said) => `Curve of ${channel}`;
export const addAPoint = "add a point";
export const pointAtXY = (x: Said, y: Said) => `Point at ${x}, ${y}`;
export const removeAPoint = "remove a point";
export const pointsTyped = "Points, typed";
export const givePointsAsPairsFrom0 = "Give points as pairs from 0 to 255, such as 64 50, 192 210. The curve stays as it was.";
export const freeEnds = "free ends";
export const pinnedEnds = "pinned ends";
export const freeTheEnds = "Free the ends";
export const darker = "darker";
export const lighter = "lighter";
export const pointsLow = "points";

// First
export const beforeItIsRecoloured = "Before it is recoloured";
export const evenOut = "Even out";
export const evenOutLow = "even out";
export const rebuildWhatClipped = "rebuild what clipped";
export const doNotRebuild = "do not rebuild";
export const rebuildWhatTheLightBurnedOut = "Rebuild what the light burned out";
export const rebuilt = "Rebuilt";
export const grain = "Grain";
export const slope = "Slope";
export const lightFrom = "Light from";
export const brushOnThePicture = "Brush on the picture";
export const brushItAway = "Brush it away";
export const rebuildEverywhere = "rebuild everywhere";
export const bringItBack = "Bring it back";
export const theBodysLightAndGrainGo = "The body’s light and grain go on where the photo clipped. Glints of a lamp are best brushed away.";

// GreyLine
export const greyCard = "grey card";
export const lightOfThePicture = "Light of the picture";
export const itsLightIsKnownFromThe = (at: Said, at2: Said) => `Its light is known from the grey at x ${at}, y ${at2}.`;
export const itsLightIsEstimatedWithA = "Its light is estimated. With a grey card clicked in each picture, a target looks alike in all of them.";
export const isThatAGreyCardDoubt = (doubt: Said) => `Is that a grey card? ${doubt}.`;
export const itsLightness = "Its lightness";
export const lightnessOfTheGreyCard = "lightness of the grey card";
export const clickTheGreyCard = "Click the grey card";
export const anotherGrey = "Another grey";
export const clickAGreyCard = "Click a grey card";
export const estimatedLight = "estimated light";
export const estimateIt = "Estimate it";

// Methods
export const wayToRecolour = "Way to recolour";
export const methodM = (m: Said) => `method ${m}`;
export const repaint = "Repaint";
export const turnHue = "Turn hue";
export const twoTone = "Two-tone";
export const curves = "Curves";
export const shadeDepth = "Shade depth";
export const highlights = "Highlights";
export const severalTones = "Several tones";
export const tonesAsTheyCome = "tones as they come";
export const oneTone = "one tone";
export const tonesKeptApart = "tones kept apart";
export const keep = "Keep";
export const merge = "Merge";
export const separate = "Separate";
export const hue = "Hue";
export const saturation = "Saturation";
export const lightness = "Lightness";
export const past20ColoursBeginToBreak = "Past +20 colours begin to break up and look unnatural.";
export const lightnessInsideAHardMaskMakes = "Lightness inside a hard mask makes its edge show.";
export const darkEnd = "Dark end";
export const colourOfTheDarkEnd = "Colour of the dark end";
export const theTargetsHueDeep = "the target’s hue, deep";
export const darkEndLow = "dark end";
export const linkedDarkEnd = "linked dark end";
export const middle = "Middle";
export const theTargetGovernsTheLightEnd = "The target governs the light end.";
export const strength = "Strength";
export const pastTheMarkAtVividNothing = (vivid: Said) => `Past the mark, at ${vivid} %, nothing of a like colour in the photo is as vivid: it may stop looking photographed.`;
export const finish = "Finish";
export const noFinish = "no finish";
export const brightnessSaturationAndBlendingOverThe = "Brightness, saturation and blending over the method";
export const exposure = "Exposure";
export const brightTones = "Bright tones";
export const darkTones = "Dark tones";
export const blackPoint = "Black point";
export const whitePoint = "White point";
export const darkest = "Darkest";
export const lightest = "Lightest";
export const colourfulness = "Colourfulness";
export const vibrance = "Vibrance";
export const blendMode = "Blend mode";
export const blendValue = (value: Said) => `blend ${value}`;
export const resetFinish = "reset finish";
export const resetTheFinish = "Reset the finish";

// OnlyOwn
export const onlyItsColours = "Only its colours";
export const onlyItsColoursLow = "only its colours";
export const aStrapOrAGroundThat = "A strap or a ground that the mask holds too stays as it is. The view Changed shows what is left.";
export const allOfTheMaskIsRecoloured = "All of the mask is recoloured, whatever colour it has.";

// Planes
export const brightness = "Brightness";
export const planes = "Planes";
export const lightnessChroma = "Lightness, chroma";
export const saturationBrightness = "Saturation, brightness";
export const chroma = "Chroma";
export const saturationAndBrightness = "Saturation and brightness";
export const beyondSrgbTheNearestShownIs = "Beyond sRGB; the nearest shown is ";
export const dottedWhatInksCanPrint = (inks: Said) => `Dotted: what ${inks} can print`;
export const hatchedBeyondSrgbDottedInks = (inks: Said) => `Hatched: beyond sRGB. Dotted: ${inks}`;
export const hatchedNoScreenInSrgbCan = "Hatched: no screen in sRGB can show it";
export const allOfTheseAScreenIn = "All of these a screen in sRGB can show";
export const nothingInThePhotoIsLike = "Nothing in the photo is like it";
export const beyond = "Beyond";
export const within = "Within";
export const thePhotosOwn = " the photo’s own ";
export const theBar = " (the bar)";
export const byAngle = "By angle";
export const hueName = (name: Said) => `Hue ${name}`;
export const chosenLast = "Chosen last";
export const theColourInThePicture = "The colour in the picture";
export const theMostVividColourLikeIt = "The most vivid colour like it in the photo";
export const lightnessAndChroma = "Lightness and chroma";
export const lightnessLChromaC = (l: Said, c: Said) => `lightness ${l} %, chroma ${c} %`;
