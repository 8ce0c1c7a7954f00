package dev.vacancy.picture;

import dev.vacancy.rule.Rule;

/** What a box or a line is about, as its colours say it; each picture says it in words too. */
enum Tone {
    PLAIN("#ffffff", "#5b6470"),
    GOES("#fbe4e1", "#b03a2e"),
    CHANGED("#e3eefb", "#22609c"),
    KEPT("#eef0f2", "#5b6470"),
    FORBIDS("#fff0c2", "#8a5a00");

    private final String fill;
    private final String stroke;

    Tone(String fill, String stroke) {
        this.fill = fill;
        this.stroke = stroke;
    }

    String fill() {
        return fill;
    }

    String stroke() {
        return stroke;
    }

    static Tone of(Rule rule) {
        return switch (rule) {
            case CASCADE, PART_OF -> GOES;
            case BLOCK -> FORBIDS;
            case DETACH, REASSIGN, RESET -> CHANGED;
            case KEEP -> KEPT;
        };
    }
}
