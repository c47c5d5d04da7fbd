#ifndef EPISEMA_VIPS_H
#define EPISEMA_VIPS_H

#include <vips/vips.h>

// What ep_inspect and ep_decode tell of a picture file.
typedef struct {
	int width, height;   // as shown, after orientation
	int bands;           // 3 or 4 after decoding
	int bits;            // 8 or 16
	int pages;
	int interpretation;
	int loaded_bands;
	int has_profile;
	int orientation; // as EXIF numbers it, 1 to 8
} EpInfo;

int ep_start(void);
const char *ep_loader(const char *path);
int ep_inspect(const char *path, EpInfo *info);
int ep_profile(const char *path, void **data, size_t *size);
int ep_decode(const char *path, const char *raw, int to_srgb, double seconds, EpInfo *info);
int ep_encode(const char *raw, int width, int height, int bands, int bits, const char *original,
	const char *format, int quality, int srgb_profile, int longest, const char *profile, int inks, int metadata, int subsample,
	const char *rights, const char *copyright, const char *artist, const char *out, int png); // png: a PNG is written there, without compression
int ep_inks(const void *profile, size_t size, const unsigned short *inks, double *lab);
int ep_ink_proof(const void *profile, size_t size, int n, const double *rgb, double *seen, double *paper, double *was, double *is);


#endif
