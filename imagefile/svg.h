#include <stddef.h>

typedef struct _RsvgHandle RsvgHandle;

RsvgHandle *ep_svg_open(const void *svg, size_t size, char *problem, size_t room);
void ep_svg_close(RsvgHandle *);
int ep_svg_render(RsvgHandle *, double full_width, double full_height, int x, int y, int width, int height, double seconds, unsigned char *rgba, char *problem, size_t room);
