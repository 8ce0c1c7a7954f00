package dev.vacancy.internal.yaml;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.internal.catalog.EditDistance;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;

/** What is wrong with a file, each with its line, so that all of it can be told at once. */
final class Problems {
    private final Path file;
    private final List<String> problems = new ArrayList<>();

    Problems(Path file) {
        this.file = file;
    }

    /** Says where a line is, for messages. */
    String at(int line) {
        return file + ", line " + line;
    }

    void add(int line, String what) {
        problems.add(at(line) + ": " + what + ".");
    }

    /** A word that has no meaning where it stands. */
    void unknown(int line, String word, List<String> words) {
        String nearest = words.stream()
                .min(Comparator.comparingInt(known -> EditDistance.between(word, known)))
                .orElseThrow();
        problems.add(at(line) + ": '" + word + "' is not a word here; did you mean '" + nearest + "'?");
    }

    boolean none() {
        return problems.isEmpty();
    }

    void refuse() {
        if (!none()) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    String.join(System.lineSeparator(), problems),
                    "Fix that in " + file + " and try again.");
        }
    }
}
