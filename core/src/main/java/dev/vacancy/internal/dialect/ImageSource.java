package dev.vacancy.internal.dialect;

import java.util.List;

/**
 * Images that a database reads by itself.
 *
 * @param from what joins a table of images to make rows of them, called {@code p}
 * @param values an expression for the value of each column
 * @since 0.1
 */
public record ImageSource(String from, List<String> values) {
    /** Keeps its own copy. */
    public ImageSource {
        values = List.copyOf(values);
    }
}
