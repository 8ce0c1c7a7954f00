package dev.vacancy.retirement;

import dev.vacancy.By;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.UUID;

/**
 * What a step of a retirement did.
 *
 * @param id the number of the retirement, by which it can be brought back
 * @param step the step
 * @param name what retires, such as {@code hive.wood} or {@code photo}
 * @param nameAside what it is or was called while it is set aside
 * @param by who wanted it, and why
 * @param at when
 * @param dueAt when it may be dropped
 * @param records how many records are concerned: whose values were written to a file, or came back
 * @param files the files that were written, or read
 * @param leftOut what didn't come back, and why; nothing as a rule
 * @since 0.1
 */
public record RetirementOutcome(
        UUID id,
        RetirementStep step,
        String name,
        String nameAside,
        By by,
        Instant at,
        Instant dueAt,
        long records,
        List<Path> files,
        List<String> leftOut) {
    /** Keeps its own copies of the lists. */
    public RetirementOutcome {
        files = List.copyOf(files);
        leftOut = List.copyOf(leftOut);
    }
}
