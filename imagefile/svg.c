#include <cairo.h>
#include <librsvg/rsvg.h>

#include "svg.h"

static void say(GError *e, char *problem, size_t room)
{
	g_strlcpy(problem, e ? e->message : "there is not enough memory", room);
	g_clear_error(&e);
}

// ep_svg_open reads a drawing. Without a base it refers to no file.
RsvgHandle *ep_svg_open(const void *svg, size_t size, char *problem, size_t room)
{
	GError *e = NULL;
	GInputStream *in = g_memory_input_stream_new_from_data(svg, size, NULL);
	RsvgHandle *h = rsvg_handle_new_from_stream_sync(in, NULL, RSVG_HANDLE_FLAG_UNLIMITED, NULL, &e);
	g_object_unref(in);
	if (!h)
		say(e, problem, room);
	else
		rsvg_handle_set_dpi(h, 96); // CSS has 96 px to the inch
	return h;
}

void ep_svg_close(RsvgHandle *h)
{
	g_object_unref(h);
}

// rows rendered at once: between them the time is looked at.
#define ROWS 2048

// ep_svg_render renders the whole drawing into full_width x full_height pixels and gives a rectangle of them as 8 bit RGBA with
// straight alpha; what lies outside is transparent. Returns 1 where it took longer than seconds, -1 where it failed.
int ep_svg_render(RsvgHandle *h, double full_width, double full_height, int x, int y, int width, int height, double seconds, unsigned char *rgba, char *problem, size_t room)
{
	gint64 end = g_get_monotonic_time() + (gint64) (seconds * 1e6);
	for (int top = 0; top < height; top += ROWS) {
		int rows = MIN(ROWS, height - top);
		cairo_surface_t *s = cairo_image_surface_create(CAIRO_FORMAT_ARGB32, width, rows);
		cairo_t *c = cairo_create(s);
		RsvgRectangle at = { -x, -(y + top), full_width, full_height };
		GError *e = NULL;
		cairo_rectangle(c, at.x, at.y, at.width, at.height);
		cairo_clip(c);
		int ok = cairo_surface_status(s) == CAIRO_STATUS_SUCCESS && rsvg_handle_render_document(h, c, &at, &e);
		cairo_destroy(c);
		if (!ok) {
			say(e, problem, room);
			cairo_surface_destroy(s);
			return -1;
		}
		cairo_surface_flush(s);
		for (int row = 0; row < rows; row++) {
			const guint32 *from = (const guint32 *) (cairo_image_surface_get_data(s) + (size_t) row * cairo_image_surface_get_stride(s));
			unsigned char *to = rgba + 4 * (size_t) width * (top + row);
			for (int i = 0; i < width; i++, to += 4) {
				guint32 v = from[i], a = v >> 24;
				if (!a) {
					to[0] = to[1] = to[2] = to[3] = 0;
					continue;
				}
				to[0] = MIN(255, (((v >> 16) & 255) * 255 + a / 2) / a);
				to[1] = MIN(255, (((v >> 8) & 255) * 255 + a / 2) / a);
				to[2] = MIN(255, ((v & 255) * 255 + a / 2) / a);
				to[3] = a;
			}
		}
		cairo_surface_destroy(s);
		if (g_get_monotonic_time() > end)
			return 1;
	}
	return 0;
}
