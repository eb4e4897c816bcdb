/* The marble run from C, without a device: a strike on glass, what was decided, and how loud it was. */
#include <kiai_c.h>

#include <math.h>
#include <stdio.h>

int main(void) {
    kiai_engine* bench = kiai_open_silent("marble-run", 48000, 1);
    if (!bench) return 1;
    for (int i = 0; i < kiai_findings(bench); ++i) {
        char line[512];
        kiai_finding(bench, i, line, sizeof line);
        puts(line);
    }
    kiai_next_decision(bench, NULL, 0); /* from here on they are kept */
    kiai_contact(bench, "marble", "glass", 0.8f, 0, 0);
    kiai_play_id roll = kiai_play(bench, "roll", "bench");
    kiai_play_set_pitch(bench, roll, 2, 0.01);

    float out[2 * 480], peak = 0;
    for (int block = 0; block < 100; ++block) {
        kiai_render(bench, out, 480);
        for (int i = 0; i < 2 * 480; ++i) peak = fmaxf(peak, fabsf(out[i]));
    }
    kiai_poll(bench);
    char line[512];
    while (kiai_next_decision(bench, line, sizeof line) > 0) puts(line);
    printf("peak %.1f dBFS\n", 20 * log10(peak));
    kiai_close(bench);
    return 0;
}
