#include "go_asm.h"
#include "textflag.h"

// The loops of side.go, eight pixels at a time. Each does the same operations in the same order, and none that rounds once where two do.
// AX counts bytes up to CX.

#define BEGIN \
	MOVQ n+0(FP), CX \
	SHLQ $2, CX      \
	XORQ AX, AX

#define NEXT(label) \
	ADDQ $32, AX \
	CMPQ AX, CX  \
	JLT  label

DATA ones<>+0(SB)/4, $1.0
GLOBL ones<>(SB), RODATA, $4

DATA thirds<>+0(SB)/4, $0.333333343267440796
GLOBL thirds<>(SB), RODATA, $4

DATA luma<>+0(SB)/4, $0.2126
DATA luma<>+4(SB)/4, $0.7152
DATA luma<>+8(SB)/4, $0.0722
GLOBL luma<>(SB), RODATA, $12

// func mixWide(n int, o, in, e, h *float32, t *taken, k *mixing)
TEXT ·mixWide(SB), NOSPLIT, $0-56
	BEGIN
	MOVQ         o+8(FP), DI
	MOVQ         in+16(FP), SI
	MOVQ         e+24(FP), DX
	MOVQ         h+32(FP), BX
	MOVQ         t+40(FP), R8
	MOVQ         k+48(FP), R9
	VBROADCASTSS mixing_goal(R9), Y0
	VBROADCASTSS mixing_less(R9), Y1
	VBROADCASTSS mixing_body(R9), Y2
	VBROADCASTSS mixing_over(R9), Y3

mix:
	VMOVUPS (SI)(AX*1), Y4
	VMOVUPS (DX)(AX*1), Y5
	VMOVUPS (BX)(AX*1), Y6
	VMULPS  taken_own(R8)(AX*1), Y5, Y7
	VADDPS  taken_even(R8)(AX*1), Y7, Y7
	VMULPS  taken_given(R8)(AX*1), Y6, Y8
	VADDPS  Y8, Y7, Y7
	VMULPS  Y0, Y7, Y7
	VMULPS  taken_gloss(R8)(AX*1), Y6, Y8
	VADDPS  taken_shine(R8)(AX*1), Y8, Y8
	VADDPS  Y8, Y7, Y7
	VMULPS  Y2, Y5, Y8
	VSUBPS  Y8, Y4, Y8
	VSUBPS  Y6, Y8, Y8
	VMULPS  Y1, Y8, Y8
	VADDPS  Y8, Y7, Y7
	VADDPS  Y3, Y7, Y7
	VMOVUPS Y7, (DI)(AX*1)
	NEXT(mix)
	VZEROUPPER
	RET

// func weighWide(n int, t *taken, h0, h1, h2 *float32, k *weighing)
TEXT ·weighWide(SB), NOSPLIT, $0-48
	BEGIN
	MOVQ         t+8(FP), R8
	MOVQ         h0+16(FP), SI
	MOVQ         h1+24(FP), DX
	MOVQ         h2+32(FP), BX
	MOVQ         k+40(FP), R9
	VBROADCASTSS weighing_tint(R9), Y0
	VBROADCASTSS weighing_part(R9), Y1
	VBROADCASTSS weighing_gleam(R9), Y2
	VBROADCASTSS weighing_mirrored(R9), Y3
	VBROADCASTSS ones<>(SB), Y4
	VSUBPS       Y3, Y4, Y5                   // 1 - mirrored
	VBROADCASTSS luma<>+0(SB), Y6
	VBROADCASTSS luma<>+4(SB), Y7
	VBROADCASTSS luma<>+8(SB), Y8

weigh:
	VMOVUPS taken_gain(R8)(AX*1), Y9
	VMOVUPS taken_back(R8)(AX*1), Y10
	VMULPS  Y9, Y0, Y11
	VSUBPS  Y11, Y9, Y12
	VMULPS  taken_mean(R8)(AX*1), Y12, Y12
	VMOVUPS Y12, taken_even(R8)(AX*1)
	VMOVUPS Y11, taken_own(R8)(AX*1)
	VMULPS  Y10, Y11, Y11
	VMULPS  Y1, Y11, Y11
	VMOVUPS Y11, taken_given(R8)(AX*1)
	VSUBPS  Y10, Y4, Y10
	VMULPS  Y10, Y2, Y10
	VMULPS  Y3, Y10, Y11
	VMOVUPS Y11, taken_gloss(R8)(AX*1)
	VMULPS  (SI)(AX*1), Y6, Y11
	VMULPS  (DX)(AX*1), Y7, Y12
	VADDPS  Y12, Y11, Y11
	VMULPS  (BX)(AX*1), Y8, Y12
	VADDPS  Y12, Y11, Y11
	VMULPS  Y5, Y10, Y10
	VMULPS  Y11, Y10, Y10
	VMOVUPS Y10, taken_shine(R8)(AX*1)
	NEXT(weigh)
	VZEROUPPER
	RET

// func relightWide(n int, t *taken, i0, i1, i2, e0, e1, e2, h0, h1, h2 *float32, k *relighting)
TEXT ·relightWide(SB), NOSPLIT, $0-96
	BEGIN
	MOVQ         k+88(FP), R9
	VBROADCASTSS relighting_of+0(R9), Y0
	VBROADCASTSS relighting_of+4(R9), Y1
	VBROADCASTSS relighting_of+8(R9), Y2
	VBROADCASTSS relighting_body+0(R9), Y3
	VBROADCASTSS relighting_body+4(R9), Y4
	VBROADCASTSS relighting_body+8(R9), Y5
	VBROADCASTSS relighting_veil(R9), Y6
	MOVQ         t+8(FP), R13
	MOVQ         i0+16(FP), SI
	MOVQ         i1+24(FP), DX
	MOVQ         i2+32(FP), BX
	MOVQ         e0+40(FP), R9
	MOVQ         e1+48(FP), R10
	MOVQ         e2+56(FP), R11
	MOVQ         h0+64(FP), R12
	MOVQ         h1+72(FP), DI
	MOVQ         h2+80(FP), R8

relight:
	VMOVUPS (SI)(AX*1), Y7
	VSUBPS  (R12)(AX*1), Y7, Y7
	VMULPS  Y0, Y7, Y7
	VMOVUPS (DX)(AX*1), Y8
	VSUBPS  (DI)(AX*1), Y8, Y8
	VMULPS  Y1, Y8, Y8
	VADDPS  Y8, Y7, Y7
	VMOVUPS (BX)(AX*1), Y8
	VSUBPS  (R8)(AX*1), Y8, Y8
	VMULPS  Y2, Y8, Y8
	VADDPS  Y8, Y7, Y7
	VMULPS  (R9)(AX*1), Y3, Y8
	VMULPS  (R10)(AX*1), Y4, Y9
	VADDPS  Y9, Y8, Y8
	VMULPS  (R11)(AX*1), Y5, Y9
	VADDPS  Y9, Y8, Y8
	VSUBPS  Y8, Y7, Y7
	VSUBPS  Y6, Y7, Y7
	VADDPS  taken_even(R13)(AX*1), Y7, Y7
	VMOVUPS Y7, taken_even(R13)(AX*1)
	NEXT(relight)
	VZEROUPPER
	RET

// func meanWide(n int, t *taken, e0, e1, e2, h0, h1, h2 *float32, part float32)
TEXT ·meanWide(SB), NOSPLIT, $0-68
	BEGIN
	MOVQ         t+8(FP), R8
	MOVQ         e0+16(FP), SI
	MOVQ         e1+24(FP), DX
	MOVQ         e2+32(FP), BX
	MOVQ         h0+40(FP), R10
	MOVQ         h1+48(FP), R11
	MOVQ         h2+56(FP), R12
	VBROADCASTSS part+64(FP), Y0
	VBROADCASTSS thirds<>(SB), Y1
	VBROADCASTSS ones<>(SB), Y2

mean:
	VMOVUPS (SI)(AX*1), Y3
	VADDPS  (DX)(AX*1), Y3, Y3
	VADDPS  (BX)(AX*1), Y3, Y3
	VMOVUPS (R10)(AX*1), Y4
	VADDPS  (R11)(AX*1), Y4, Y4
	VADDPS  (R12)(AX*1), Y4, Y4
	VMULPS  taken_back(R8)(AX*1), Y0, Y5
	VMULPS  Y4, Y5, Y4
	VADDPS  Y4, Y3, Y3
	VMULPS  Y1, Y3, Y3
	VMOVUPS Y3, taken_mean(R8)(AX*1)
	VMOVUPS Y2, taken_gain(R8)(AX*1)
	NEXT(mean)
	VZEROUPPER
	RET

// func giveBackWide(n int, back, light, over *float32, dull, steep float32)
TEXT ·giveBackWide(SB), NOSPLIT, $0-40
	BEGIN
	MOVQ         back+8(FP), DI
	MOVQ         light+16(FP), SI
	MOVQ         over+24(FP), DX
	VBROADCASTSS dull+32(FP), Y0
	VBROADCASTSS steep+36(FP), Y1
	VBROADCASTSS ones<>(SB), Y2
	VXORPS       Y3, Y3, Y3

back:
	VMULPS  (DX)(AX*1), Y1, Y4
	VMAXPS  Y3, Y4, Y4
	VMINPS  Y2, Y4, Y4
	VSUBPS  Y4, Y2, Y4
	VMULPS  Y4, Y0, Y4
	VCMPPS  $1, (SI)(AX*1), Y3, Y5 // 0 < light
	VANDPS  Y5, Y4, Y4
	VMOVUPS Y4, (DI)(AX*1)
	NEXT(back)
	VZEROUPPER
	RET

DATA crispEnds<>+0(SB)/4, $0.4
DATA crispEnds<>+4(SB)/4, $1.8
GLOBL crispEnds<>(SB), RODATA, $8

// func crispWide(n int, t *taken, light *float32, crisp float32)
TEXT ·crispWide(SB), NOSPLIT, $0-28
	BEGIN
	MOVQ         t+8(FP), R8
	MOVQ         light+16(FP), SI
	VBROADCASTSS crisp+24(FP), Y0
	VBROADCASTSS ones<>(SB), Y1
	VBROADCASTSS crispEnds<>+0(SB), Y2
	VBROADCASTSS crispEnds<>+4(SB), Y3
	VXORPS       Y4, Y4, Y4

crisp:
	VMOVUPS   (SI)(AX*1), Y5
	VMOVUPS   taken_mean(R8)(AX*1), Y6
	VDIVPS    Y5, Y6, Y6
	VMINPS    Y3, Y6, Y6
	VMAXPS    Y2, Y6, Y6
	VSUBPS    Y1, Y6, Y6
	VMULPS    Y6, Y0, Y6
	VADDPS    Y6, Y1, Y6
	VCMPPS    $1, Y5, Y4, Y5          // 0 < light
	VBLENDVPS Y5, Y6, Y1, Y6
	VMOVUPS   Y6, taken_gain(R8)(AX*1)
	NEXT(crisp)
	VZEROUPPER
	RET

// shadeSteps, and filmSteps.
DATA steps<>+0(SB)/4, $4096.0
GLOBL steps<>(SB), RODATA, $4

DATA shadeEnd<>+0(SB)/4, $8191.0
GLOBL shadeEnd<>(SB), RODATA, $4

// FOUR takes four places out of a register. The processor's own way to look up several values at once is slower than one after the other.
#define FOUR(places) \
	VMOVQ   places, R10     \
	VPEXTRQ $1, places, R12 \
	MOVL    R10, R11        \
	SHRQ    $32, R10        \
	MOVL    R12, R13        \
	SHRQ    $32, R12

// LOOKED reads four places of the table at R9.
#define LOOKED(places, to) \
	FOUR(places)                          \
	VMOVSS    (R9)(R11*4), to             \
	VINSERTPS $0x10, (R9)(R10*4), to, to  \
	VINSERTPS $0x20, (R9)(R13*4), to, to  \
	VINSERTPS $0x30, (R9)(R12*4), to, to

// PAIRS reads four places of the table at R9, and those after them.
#define PAIRS(places, to, next, tmp) \
	FOUR(places)                       \
	VMOVSD  (R9)(R11*4), tmp           \
	VMOVHPS (R9)(R10*4), tmp, tmp      \
	VMOVSD  (R9)(R13*4), next          \
	VMOVHPS (R9)(R12*4), next, next    \
	VSHUFPS $0x88, next, tmp, to       \
	VSHUFPS $0xdd, next, tmp, next

// func deepenWide(n int, t *taken, shade *float32)
TEXT ·deepenWide(SB), NOSPLIT, $0-24
	BEGIN
	MOVQ         t+8(FP), R8
	MOVQ         shade+16(FP), R9
	VBROADCASTSS steps<>(SB), Y0
	VBROADCASTSS shadeEnd<>(SB), Y1
	VXORPS       Y2, Y2, Y2

deepen:
	VMOVUPS    taken_gain(R8)(AX*1), Y3
	VMULPS     taken_mean(R8)(AX*1), Y3, Y4
	VMULPS     Y0, Y4, Y4
	VMAXPS     Y2, Y4, Y4
	VMINPS     Y1, Y4, Y4
	VCVTTPS2DQ Y4, Y4
	VEXTRACTI128 $1, Y4, X5
	LOOKED(X4, X6)
	LOOKED(X5, X7)
	VINSERTF128 $1, X7, Y6, Y6
	VMULPS     Y6, Y3, Y3
	VMOVUPS    Y3, taken_gain(R8)(AX*1)
	NEXT(deepen)
	VZEROUPPER
	RET

#define PLACES(name, a, b, c, d, e, f, g, h) \
	DATA name+0(SB)/4, a  \
	DATA name+4(SB)/4, b  \
	DATA name+8(SB)/4, c  \
	DATA name+12(SB)/4, d \
	DATA name+16(SB)/4, e \
	DATA name+20(SB)/4, f \
	DATA name+24(SB)/4, g \
	DATA name+28(SB)/4, h \
	GLOBL name(SB), RODATA, $32

// Eight pixels are three times eight values, in which a channel's have eight places of their own: put into one register they are out of order.
PLACES(reds<>, $0, $3, $6, $1, $4, $7, $2, $5)
PLACES(greens<>, $1, $4, $7, $2, $5, $0, $3, $6)
PLACES(greensBack<>, $5, $0, $3, $6, $1, $4, $7, $2)
PLACES(blues<>, $2, $5, $0, $3, $6, $1, $4, $7)

// TOGETHER takes of three registers what lies at three, three and two places.
#define TOGETHER(x, y, atY, z, atZ, to) \
	VBLENDPS $atY, y, x, to \
	VBLENDPS $atZ, z, to, to

// func apartWide(n int, red, green, blue, pix *float32)
TEXT ·apartWide(SB), NOSPLIT, $0-40
	BEGIN
	MOVQ    red+8(FP), DI
	MOVQ    green+16(FP), DX
	MOVQ    blue+24(FP), BX
	MOVQ    pix+32(FP), SI
	VMOVDQU reds<>(SB), Y0
	VMOVDQU greens<>(SB), Y1
	VMOVDQU blues<>(SB), Y2

apart:
	VMOVUPS (SI), Y3
	VMOVUPS 32(SI), Y4
	VMOVUPS 64(SI), Y5
	TOGETHER(Y3, Y4, 0x92, Y5, 0x24, Y6)
	TOGETHER(Y3, Y4, 0x24, Y5, 0x49, Y7)
	TOGETHER(Y3, Y4, 0x49, Y5, 0x92, Y8)
	VPERMPS Y6, Y0, Y6
	VPERMPS Y7, Y1, Y7
	VPERMPS Y8, Y2, Y8
	VMOVUPS Y6, (DI)(AX*1)
	VMOVUPS Y7, (DX)(AX*1)
	VMOVUPS Y8, (BX)(AX*1)
	ADDQ    $96, SI
	NEXT(apart)
	VZEROUPPER
	RET

// CHANGED adds how far a result is from what was to what is there, and finds out whether it stays within 0..1.
#define CHANGED(at, is) \
	VSUBPS at(SI), is, is    \
	VADDPS at(DI), is, is    \
	VCMPPS $1, Y6, is, Y8    \
	VORPS  Y8, Y14, Y14      \
	VCMPPS $14, Y7, is, Y8   \
	VORPS  Y8, Y14, Y14

// func putWide(n int, dst, src, red, green, blue *float32) (done int)
TEXT ·putWide(SB), NOSPLIT, $0-56
	BEGIN
	MOVQ         dst+8(FP), DI
	MOVQ         src+16(FP), SI
	MOVQ         red+24(FP), DX
	MOVQ         green+32(FP), BX
	MOVQ         blue+40(FP), R8
	VMOVDQU      reds<>(SB), Y3
	VMOVDQU      greensBack<>(SB), Y4
	VMOVDQU      blues<>(SB), Y5
	VXORPS       Y6, Y6, Y6
	VBROADCASTSS ones<>(SB), Y7

put:
	VPERMPS   (DX)(AX*1), Y3, Y0
	VPERMPS   (BX)(AX*1), Y4, Y1
	VPERMPS   (R8)(AX*1), Y5, Y2
	VXORPS    Y14, Y14, Y14
	TOGETHER(Y0, Y1, 0x92, Y2, 0x24, Y9)
	TOGETHER(Y0, Y1, 0x24, Y2, 0x49, Y10)
	TOGETHER(Y0, Y1, 0x49, Y2, 0x92, Y11)
	CHANGED(0, Y9)
	CHANGED(32, Y10)
	CHANGED(64, Y11)
	VMOVMSKPS Y14, R9
	TESTL     R9, R9
	JNZ       beyond
	VMOVUPS   Y9, (DI)
	VMOVUPS   Y10, 32(DI)
	VMOVUPS   Y11, 64(DI)
	ADDQ      $96, SI
	ADDQ      $96, DI
	NEXT(put)

beyond:
	VZEROUPPER
	SHRQ $2, AX
	MOVQ AX, done+48(FP)
	RET

// func endsWide(n int, red, green, blue *float32) (least, most float32)
TEXT ·endsWide(SB), NOSPLIT, $0-40
	BEGIN
	MOVQ    red+8(FP), SI
	MOVQ    green+16(FP), DX
	MOVQ    blue+24(FP), BX
	VMOVUPS (SI), Y0
	VMOVAPS Y0, Y1

ends:
	VMOVUPS (SI)(AX*1), Y2
	VMOVUPS (DX)(AX*1), Y3
	VMOVUPS (BX)(AX*1), Y4
	VMINPS  Y2, Y0, Y0
	VMAXPS  Y2, Y1, Y1
	VMINPS  Y3, Y0, Y0
	VMAXPS  Y3, Y1, Y1
	VMINPS  Y4, Y0, Y0
	VMAXPS  Y4, Y1, Y1
	NEXT(ends)
	VEXTRACTF128 $1, Y0, X2
	VMINPS       X2, X0, X0
	VPERMILPS    $0x4e, X0, X2
	VMINPS       X2, X0, X0
	VPERMILPS    $0xb1, X0, X2
	VMINPS       X2, X0, X0
	VEXTRACTF128 $1, Y1, X2
	VMAXPS       X2, X1, X1
	VPERMILPS    $0x4e, X1, X2
	VMAXPS       X2, X1, X1
	VPERMILPS    $0xb1, X1, X2
	VMAXPS       X2, X1, X1
	VZEROUPPER
	MOVSS X0, least+32(FP)
	MOVSS X1, most+36(FP)
	RET

// CURVED reads the table at R9 at the square root of values; zero, one and what one is worth in steps are in Y0, Y1 and Y3. It needs Y8 to Y11 and
// Y13 to Y15.
#define CURVED(v) \
	VMAXPS       Y0, v, v        \
	VMINPS       Y1, v, v        \
	VSQRTPS      v, v            \
	VMULPS       Y3, v, v        \
	VCVTTPS2DQ   v, Y8           \
	VEXTRACTI128 $1, Y8, X13     \
	PAIRS(X8, X10, X11, X9)      \
	PAIRS(X13, X14, X15, X9)     \
	VINSERTF128  $1, X14, Y10, Y10 \
	VINSERTF128  $1, X15, Y11, Y11 \
	VCVTDQ2PS    Y8, Y8          \
	VSUBPS       Y8, v, v        \
	VSUBPS       Y10, Y11, Y11   \
	VMULPS       Y11, v, v       \
	VADDPS       Y10, v, v

// func curveWide(n int, l *float32, table *float32, scale float32)
TEXT ·curveWide(SB), NOSPLIT, $0-28
	BEGIN
	MOVQ         l+8(FP), DI
	MOVQ         table+16(FP), R9
	VBROADCASTSS scale+24(FP), Y2
	VXORPS       Y0, Y0, Y0
	VBROADCASTSS ones<>(SB), Y1
	VBROADCASTSS steps<>(SB), Y3

curve:
	VMULPS  (DI)(AX*1), Y2, Y4
	CURVED(Y4)
	VMOVUPS Y4, (DI)(AX*1)
	NEXT(curve)
	VZEROUPPER
	RET

// func curveWholeWide(n int, red, green, blue, table *float32, scale float32)
TEXT ·curveWholeWide(SB), NOSPLIT, $0-44
	BEGIN
	MOVQ         red+8(FP), SI
	MOVQ         green+16(FP), DX
	MOVQ         blue+24(FP), BX
	MOVQ         table+32(FP), R9
	VBROADCASTSS scale+40(FP), Y2
	VXORPS       Y0, Y0, Y0
	VBROADCASTSS ones<>(SB), Y1
	VBROADCASTSS steps<>(SB), Y3

whole:
	VMOVUPS (SI)(AX*1), Y5
	VMOVUPS (DX)(AX*1), Y6
	VMOVUPS (BX)(AX*1), Y7
	VMAXPS  Y5, Y6, Y12
	VMAXPS  Y7, Y12, Y12
	VMULPS  Y12, Y2, Y4
	CURVED(Y4)
	VDIVPS  Y12, Y4, Y4
	VCMPPS  $1, Y12, Y0, Y13 // 0 < the most
	VMULPS  Y4, Y5, Y5
	VMULPS  Y4, Y6, Y6
	VMULPS  Y4, Y7, Y7
	VMAXPS  Y0, Y5, Y5
	VMAXPS  Y0, Y6, Y6
	VMAXPS  Y0, Y7, Y7
	VANDPS  Y13, Y5, Y5
	VANDPS  Y13, Y6, Y6
	VANDPS  Y13, Y7, Y7
	VMOVUPS Y5, (SI)(AX*1)
	VMOVUPS Y6, (DX)(AX*1)
	VMOVUPS Y7, (BX)(AX*1)
	NEXT(whole)
	VZEROUPPER
	RET
