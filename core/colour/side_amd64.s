#include "textflag.h"

DATA coded<>+0(SB)/4, $65536.0
DATA coded<>+4(SB)/4, $0.5
GLOBL coded<>(SB), RODATA, $8

// PLACED finds the places of eight values in the table.
#define PLACED(at, to, put) \
	VMULPS     at(SI), Y0, to \
	VADDPS     Y1, to, to     \
	VMAXPS     Y2, to, to     \
	VMINPS     Y0, to, to     \
	VCVTTPS2DQ to, to         \
	VMOVDQU    to, put

// PIXEL looks three of them up and puts them together.
#define PIXEL(red, green, blue, at) \
	MOVL    red, R10             \
	MOVL    green, R11           \
	MOVL    blue, R12            \
	MOVBLZX (R9)(R10*1), R10     \
	MOVBLZX (R9)(R11*1), R11     \
	MOVBLZX (R9)(R12*1), R12     \
	SHLL    $8, R11              \
	SHLL    $16, R12             \
	ORL     R11, R10             \
	ORL     R13, R12             \
	ORL     R12, R10             \
	MOVL    R10, at(DI)

// func codeWide(n int, to *byte, row *float32, table *byte)
TEXT ·codeWide(SB), NOSPLIT, $96-32
	MOVQ         n+0(FP), CX
	MOVQ         to+8(FP), DI
	MOVQ         row+16(FP), SI
	MOVQ         table+24(FP), R9
	VBROADCASTSS coded<>+0(SB), Y0
	VBROADCASTSS coded<>+4(SB), Y1
	VXORPS       Y2, Y2, Y2
	MOVL         $0xff000000, R13

code:
	PLACED(0, Y3, v-96(SP))
	PLACED(32, Y4, w-64(SP))
	PLACED(64, Y5, x-32(SP))
	PIXEL(v-96(SP), v-92(SP), v-88(SP), 0)
	PIXEL(v-84(SP), v-80(SP), v-76(SP), 4)
	PIXEL(v-72(SP), v-68(SP), w-64(SP), 8)
	PIXEL(w-60(SP), w-56(SP), w-52(SP), 12)
	PIXEL(w-48(SP), w-44(SP), w-40(SP), 16)
	PIXEL(w-36(SP), x-32(SP), x-28(SP), 20)
	PIXEL(x-24(SP), x-20(SP), x-16(SP), 24)
	PIXEL(x-12(SP), x-8(SP), x-4(SP), 28)
	ADDQ $96, SI
	ADDQ $32, DI
	SUBQ $8, CX
	JNZ  code
	VZEROUPPER
	RET
