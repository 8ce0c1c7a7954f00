package dev.vacancy.picture;

import java.util.List;
import java.util.Map;

/**
 * Boxes and the lines between them, before anybody knows where they stand.
 *
 * @param title what the picture shows
 * @param boxes the boxes by a name that lines use
 * @param lines the lines
 */
record Diagram(String title, Map<String, Box> boxes, List<Line> lines) {
    /**
     * A box.
     *
     * @param heading its first line
     * @param details the lines below
     */
    record Box(String heading, List<String> details, Tone tone) {}

    /**
     * A line from one box to another, which it ends at with an arrow.
     *
     * @param labels what is written along it, line by line
     * @param dashed whether the database doesn't know of it
     */
    record Line(String from, String to, List<String> labels, Tone tone, boolean dashed) {}
}
