#include "vips.h"

#include <lcms2.h>
#include <string.h>

// ep_start readies libvips: only the loaders the product takes, none of those that libvips itself marks
// as not made for hostile input, and no cache of its own.
int ep_start(void)
{
	if (VIPS_INIT("episema"))
		return -1;
	vips_cache_set_max(0);
	vips_operation_block_set("VipsForeignLoad", TRUE);
	vips_operation_block_set("VipsForeignLoadJpeg", FALSE);
	vips_operation_block_set("VipsForeignLoadPng", FALSE);
	vips_operation_block_set("VipsForeignLoadWebp", FALSE);
	vips_operation_block_set("VipsForeignLoadTiff", FALSE);
	vips_operation_block_set("VipsForeignLoadRaw", FALSE);
	vips_operation_block_set("VipsForeignLoadSvg", FALSE); // only of what the drawing reader made safe
	return 0;
}

const char *ep_loader(const char *path)
{
	return vips_foreign_find_load(path);
}

static VipsImage *open_file(const char *path)
{
	return vips_image_new_from_file(path, "access", VIPS_ACCESS_SEQUENTIAL, "fail_on", VIPS_FAIL_ON_TRUNCATED, NULL);
}

static void describe(VipsImage *in, EpInfo *info)
{
	int swap = vips_image_get_orientation_swap(in);
	info->width = swap ? in->Ysize : in->Xsize;
	info->height = swap ? in->Xsize : in->Ysize;
	info->orientation = vips_image_get_orientation(in);
	info->pages = vips_image_get_n_pages(in);
	info->loaded_bands = in->Bands;
	info->interpretation = in->Type;
	info->bits = in->BandFmt == VIPS_FORMAT_UCHAR ? 8 : in->BandFmt == VIPS_FORMAT_USHORT ? 16 : 0;
	info->bands = vips_image_hasalpha(in) ? 4 : 3;
	info->has_profile = vips_image_get_typeof(in, VIPS_META_ICC_NAME) != 0;
}

int ep_inspect(const char *path, EpInfo *info)
{
	VipsImage *in = open_file(path);
	if (!in)
		return -1;
	describe(in, info);
	g_object_unref(in);
	return 0;
}

int ep_profile(const char *path, void **data, size_t *size)
{
	VipsImage *in = open_file(path);
	const void *blob;
	if (!in)
		return -1;
	*data = NULL;
	*size = 0;
	if (vips_image_get_typeof(in, VIPS_META_ICC_NAME) && !vips_image_get_blob(in, VIPS_META_ICC_NAME, &blob, size)) {
		*data = g_malloc(*size);
		memcpy(*data, blob, *size);
	}
	g_object_unref(in);
	return 0;
}

typedef struct {
	gint64 until; // of the monotonic clock, in microseconds
	int late;
} Deadline;

static void on_eval(VipsImage *image, VipsProgress *progress, Deadline *d)
{
	if (g_get_monotonic_time() > d->until) {
		d->late = 1;
		vips_image_set_kill(image, TRUE);
	}
}

// ep_decode writes the picture upright as interleaved 8 or 16 bit RGB or RGBA in the byte order of the
// machine. Returns 1 where it took longer than seconds, -1 on any other failure.
int ep_decode(const char *path, const char *raw, int to_srgb, double seconds, EpInfo *info)
{
	Deadline deadline = { g_get_monotonic_time() + (gint64) (seconds * 1e6), 0 };
	VipsImage *in = open_file(path);
	VipsImage *t;
	if (!in)
		return -1;
	describe(in, info);
	// Turning by a quarter reads across rows, which a sequential file cannot: libvips then keeps it all.
	if (vips_autorot(in, &t, NULL)) {
		g_object_unref(in);
		return -1;
	}
	g_object_unref(in);
	in = t;
	if (in->Bands < 3) { // grey: the same value in three channels
		VipsImage *grey, *alpha = NULL;
		int has_alpha = in->Bands == 2;
		if (vips_extract_band(in, &grey, 0, NULL)) {
			g_object_unref(in);
			return -1;
		}
		if (has_alpha && vips_extract_band(in, &alpha, 1, NULL)) {
			g_object_unref(in);
			g_object_unref(grey);
			return -1;
		}
		VipsImage *parts[4] = { grey, grey, grey, alpha };
		int failed = vips_bandjoin(parts, &t, has_alpha ? 4 : 3, NULL);
		g_object_unref(grey);
		if (alpha)
			g_object_unref(alpha);
		g_object_unref(in);
		if (failed)
			return -1;
		in = t;
	} else if (to_srgb) {
		if (vips_icc_transform(in, &t, "srgb", "embedded", TRUE, "depth", info->bits, NULL)) {
			g_object_unref(in);
			return -1;
		}
		g_object_unref(in);
		in = t;
	}
	VipsBandFormat want = info->bits == 16 ? VIPS_FORMAT_USHORT : VIPS_FORMAT_UCHAR;
	if (vips_cast(in, &t, want, NULL)) {
		g_object_unref(in);
		return -1;
	}
	g_object_unref(in);
	in = t;
	info->width = in->Xsize;
	info->height = in->Ysize;
	info->bands = in->Bands;
	vips_image_set_progress(in, TRUE);
	g_signal_connect(in, "eval", G_CALLBACK(on_eval), &deadline);
	int failed = vips_rawsave(in, raw, NULL);
	g_object_unref(in);
	if (deadline.late)
		return 1;
	return failed ? -1 : 0;
}

static void *copy_profile(VipsImage *from, const char *name, GValue *value, void *to)
{
	if (strcmp(name, VIPS_META_ICC_NAME) == 0)
		vips_image_set(VIPS_IMAGE(to), name, value);
	return NULL;
}

/* Everything but where the picture was taken: the GPS directory of Exif, and XMP, which may hold it too. The Exif block
 * itself holds the place: it is left out and made anew from its fields. */
static void *copy_without_place(VipsImage *from, const char *name, GValue *value, void *to)
{
	if ((strncmp(name, "exif-", 5) == 0 && strncmp(name, "exif-ifd3-", 10) != 0 && strcmp(name, VIPS_META_EXIF_NAME) != 0) ||
		strcmp(name, VIPS_META_IPTC_NAME) == 0 || strcmp(name, VIPS_META_ICC_NAME) == 0)
		vips_image_set(VIPS_IMAGE(to), name, value);
	return NULL;
}

static void *copy_meta(VipsImage *from, const char *name, GValue *value, void *to)
{
	if (strncmp(name, "exif-", 5) == 0 || strcmp(name, VIPS_META_EXIF_NAME) == 0 || strcmp(name, VIPS_META_XMP_NAME) == 0 ||
		strcmp(name, VIPS_META_IPTC_NAME) == 0 || strcmp(name, VIPS_META_ICC_NAME) == 0)
		vips_image_set(VIPS_IMAGE(to), name, value);
	return NULL;
}

/* Finds a string in bytes that do not end with a zero; NULL where it is not there. */
static const char *within(const char *bytes, size_t n, const char *what)
{
	size_t k = strlen(what);
	for (size_t i = 0; i + k <= n; i++)
		if (memcmp(bytes + i, what, k) == 0)
			return bytes + i;
	return NULL;
}

/* Puts a description of whose the picture is into its XMP (ISO 16684-1): beside what is there, unless that names other rights. */
static void add_rights(VipsImage *to, const char *description)
{
	static const char head[] = "<?xpacket begin=\"\xef\xbb\xbf\" id=\"W5M0MpCehiHzreSzNTczkc9d\"?><x:xmpmeta xmlns:x=\"adobe:ns:meta/\"><rdf:RDF xmlns:rdf=\"http://www.w3.org/1999/02/22-rdf-syntax-ns#\">";
	static const char tail[] = "</rdf:RDF></x:xmpmeta><?xpacket end=\"w\"?>";
	const void *had = NULL;
	size_t n = 0;
	const char *end = NULL;
	if (vips_image_get_typeof(to, VIPS_META_XMP_NAME) && !vips_image_get_blob(to, VIPS_META_XMP_NAME, &had, &n) && !within(had, n, "dc:rights"))
		end = within(had, n, "</rdf:RDF>");
	GString *all = g_string_new(NULL);
	if (end)
		g_string_append_len(all, had, end - (const char *) had);
	else
		g_string_append(all, head);
	g_string_append(all, description);
	if (end)
		g_string_append_len(all, end, (const char *) had + n - end);
	else
		g_string_append(all, tail);
	vips_image_set_blob_copy(to, VIPS_META_XMP_NAME, all->str, all->len);
	g_string_free(all, TRUE);
}

int ep_encode(const char *raw, int width, int height, int bands, int bits, const char *original,
	const char *format, int quality, int srgb_profile, int longest, const char *profile, int inks, int metadata, int subsample,
	const char *rights, const char *copyright, const char *artist, const char *out, int png)
{
	VipsImage *in, *t, *head;
	int failed;
	if (vips_rawload(raw, &in, width, height, bands, "format", bits == 16 ? VIPS_FORMAT_USHORT : VIPS_FORMAT_UCHAR,
			"interpretation", bits == 16 ? VIPS_INTERPRETATION_RGB16 : VIPS_INTERPRETATION_sRGB, NULL))
		return -1;
	if (vips_copy(in, &t, NULL)) {
		g_object_unref(in);
		return -1;
	}
	g_object_unref(in);
	in = t;
	head = open_file(original);
	if (!head) {
		g_object_unref(in);
		return -1;
	}
	in->Xres = head->Xres;
	in->Yres = head->Yres;
	vips_image_map(head, (VipsImageMapFn) (metadata == 2 ? copy_profile : metadata == 1 ? copy_without_place : copy_meta), in);
	g_object_unref(head);
	vips_image_set_int(in, VIPS_META_ORIENTATION, 1);
	if (rights[0]) {
		add_rights(in, rights);
		vips_image_set_string(in, "exif-ifd0-Copyright", copyright);
		vips_image_set_string(in, "exif-ifd0-Artist", artist);
	}
	if (srgb_profile)
		vips_image_remove(in, VIPS_META_ICC_NAME);
	VipsImage *next;
	int most = width > height ? width : height;
	if (longest > 0 && longest < most) {
		failed = vips_resize(in, &next, (double) longest / most, NULL);
		g_object_unref(in);
		if (failed)
			return -1;
		in = next;
	}
	// What a format cannot hold is brought to what it can: transparency onto white, 16 bits to 8.
	if (bands == 4 && (inks || strcmp(format, "jpeg") == 0)) {
		double white = bits == 16 ? 65535 : 255;
		VipsArrayDouble *ground = vips_array_double_newv(3, white, white, white);
		failed = vips_flatten(in, &next, "background", ground, "max_alpha", white, NULL);
		vips_area_unref(VIPS_AREA(ground));
		g_object_unref(in);
		if (failed)
			return -1;
		in = next;
	}
	if (profile[0]) {
		failed = vips_icc_transform(in, &next, profile, "embedded", TRUE, "input_profile", "srgb", "depth", bits == 16 ? 16 : 8, "intent", VIPS_INTENT_RELATIVE, "black_point_compensation", inks != 0, NULL);
		g_object_unref(in);
		if (failed)
			return -1;
		in = next;
	}
	if (bits == 16 && strcmp(format, "png") != 0 && strcmp(format, "tiff") != 0) {
		failed = vips_cast(in, &next, VIPS_FORMAT_UCHAR, "shift", TRUE, NULL);
		g_object_unref(in);
		if (failed)
			return -1;
		in = next;
		in->Type = inks ? VIPS_INTERPRETATION_CMYK : VIPS_INTERPRETATION_sRGB;
	}
	if (strncmp(format, "png", 3) == 0) {
		// Filtered, but not compressed: who reads the other end does that.
		VipsTarget *to = vips_target_new_to_descriptor(png);
		failed = !to || vips_pngsave_target(in, to, "compression", 0, "filter", VIPS_FOREIGN_PNG_FILTER_SUB, "bitdepth", strcmp(format, "png8") == 0 ? 8 : bits, NULL);
		VIPS_UNREF(to);
	}
	else if (strncmp(format, "tiff", 4) == 0)
		failed = vips_tiffsave(in, out, "compression", VIPS_FOREIGN_TIFF_COMPRESSION_DEFLATE, "predictor", VIPS_FOREIGN_TIFF_PREDICTOR_HORIZONTAL, NULL);
	else if (strcmp(format, "webp") == 0)
		failed = vips_webpsave(in, out, "Q", quality, NULL);
	else if (strcmp(format, "avif") == 0)
		failed = vips_heifsave(in, out, "Q", quality, "compression", VIPS_FOREIGN_HEIF_COMPRESSION_AV1, NULL);
	else
		failed = vips_jpegsave(in, out, "Q", quality, "subsample_mode", subsample ? VIPS_FOREIGN_SUBSAMPLE_ON : VIPS_FOREIGN_SUBSAMPLE_OFF, "optimize_coding", TRUE, NULL);
	g_object_unref(in);
	return failed ? -1 : 0;
}

// ep_inks turns a CMYK colour (0 no ink to 65535 all of it) into CIELAB D50 through a profile, relative colorimetric.
// LittleCMS is called by itself: libvips rounds the connection space to an older encoding.
int ep_inks(const void *profile, size_t size, const unsigned short *inks, double *lab)
{
	cmsContext context = cmsCreateContext(NULL, NULL); // its errors are told by what it returns
	cmsHPROFILE from = cmsOpenProfileFromMemTHR(context, profile, (cmsUInt32Number) size);
	cmsHPROFILE to = cmsCreateLab4ProfileTHR(context, NULL);
	cmsHTRANSFORM t = NULL;
	int done = 0;
	if (from && to && cmsGetColorSpace(from) == cmsSigCmykData)
		t = cmsCreateTransformTHR(context, from, TYPE_CMYK_16, to, TYPE_Lab_DBL, INTENT_RELATIVE_COLORIMETRIC, cmsFLAGS_NOOPTIMIZE | cmsFLAGS_NOCACHE);
	if (t) {
		cmsDoTransform(t, inks, lab, 1);
		cmsDeleteTransform(t);
		done = 1;
	}
	if (from)
		cmsCloseProfile(from);
	if (to)
		cmsCloseProfile(to);
	cmsDeleteContext(context);
	return done ? 0 : -1;
}

// ep_ink_proof tells of n coded sRGB colours (three doubles each, 0..1) what they look like printed through a CMYK profile, as coded
// sRGB: seen with the paper's white as the screen's, paper as it is. They go to ink relative colorimetric with black point
// compensation. was and is are the CIELAB of each colour and of what comes back of it, both with black taken for black.
int ep_ink_proof(const void *profile, size_t size, int n, const double *rgb, double *seen, double *paper, double *was, double *is)
{
	cmsContext context = cmsCreateContext(NULL, NULL);
	cmsHPROFILE inks = cmsOpenProfileFromMemTHR(context, profile, (cmsUInt32Number) size);
	cmsHPROFILE screen = cmsCreate_sRGBProfileTHR(context);
	cmsHPROFILE lab = cmsCreateLab4ProfileTHR(context, NULL);
	cmsHTRANSFORM t[4] = { NULL, NULL, NULL, NULL };
	double *to[4] = { seen, paper, was, is };
	int done = 0;
	if (inks && screen && lab && cmsGetColorSpace(inks) == cmsSigCmykData) {
		cmsUInt32Number plain = cmsFLAGS_NOOPTIMIZE | cmsFLAGS_NOCACHE, black = plain | cmsFLAGS_BLACKPOINTCOMPENSATION;
		t[0] = cmsCreateProofingTransformTHR(context, screen, TYPE_RGB_DBL, screen, TYPE_RGB_DBL, inks, INTENT_RELATIVE_COLORIMETRIC, INTENT_RELATIVE_COLORIMETRIC, black | cmsFLAGS_SOFTPROOFING);
		t[1] = cmsCreateProofingTransformTHR(context, screen, TYPE_RGB_DBL, screen, TYPE_RGB_DBL, inks, INTENT_RELATIVE_COLORIMETRIC, INTENT_ABSOLUTE_COLORIMETRIC, black | cmsFLAGS_SOFTPROOFING);
		t[2] = cmsCreateTransformTHR(context, screen, TYPE_RGB_DBL, lab, TYPE_Lab_DBL, INTENT_RELATIVE_COLORIMETRIC, plain);
		cmsHPROFILE there[3] = { screen, inks, lab };
		cmsHPROFILE back[4] = { there[0], there[1], there[1], there[2] };
		cmsBool bpc[4] = { TRUE, TRUE, TRUE, TRUE };
		cmsUInt32Number intents[4] = { INTENT_RELATIVE_COLORIMETRIC, INTENT_RELATIVE_COLORIMETRIC, INTENT_RELATIVE_COLORIMETRIC, INTENT_RELATIVE_COLORIMETRIC };
		cmsFloat64Number adapted[4] = { 1, 1, 1, 1 };
		t[3] = cmsCreateExtendedTransform(context, 4, back, bpc, intents, adapted, NULL, 0, TYPE_RGB_DBL, TYPE_Lab_DBL, plain);
		done = 1;
		for (int i = 0; i < 4; i++)
			done = done && t[i];
		for (int i = 0; i < 4 && done; i++)
			cmsDoTransform(t[i], rgb, to[i], (cmsUInt32Number) n);
		for (int i = 0; i < 4; i++)
			if (t[i])
				cmsDeleteTransform(t[i]);
	}
	if (inks)
		cmsCloseProfile(inks);
	if (screen)
		cmsCloseProfile(screen);
	if (lab)
		cmsCloseProfile(lab);
	cmsDeleteContext(context);
	return done ? 0 : -1;
}
