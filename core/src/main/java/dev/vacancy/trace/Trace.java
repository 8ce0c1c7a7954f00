package dev.vacancy.trace;

import dev.vacancy.internal.tracing.FoundTrace;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.BiFunction;

/**
 * All that a database knows of one person: the record that stands for them, what links lead to, to any depth, what the audit trail, bulk runs and
 * follow-ups have of it, and where texts stand that they are known by. It is a look at one moment, and changes nothing.
 *
 * <pre>{@code
 * Trace trace = vacancy.trace("keeper", 3);
 * System.out.println(trace.tree());
 * TracePlan plan = vacancy.plan(trace, By.user("odile").because("asked for on 30 November"));
 * TraceOutcome outcome = vacancy.eraseTrace(Question.about(plan).answer(answer).orElseThrow());
 * }</pre>
 *
 * @since 0.1
 */
public sealed interface Trace permits FoundTrace {
    /** {@return the table of the person's record} */
    String table();

    /** {@return the record's key, as the audit trail spells it} */
    String key();

    /** {@return what people recognise the record by; empty where it is gone or has nothing of the kind} */
    Optional<String> label();

    /** {@return whether the record is there; if not, this is what is left of it} */
    boolean isThere();

    /** {@return when the database was looked at} */
    Instant madeAt();

    /** {@return what was found, the person's own record first, then what hangs on it, parents before children, and what else tells of it} */
    List<TracePart> parts();

    /** {@return what a person should know before they rely on it, each a sentence or two} */
    List<String> warnings();

    /**
     * Tells whether nothing is known.
     *
     * @return true if there are no parts
     */
    default boolean isEmpty() {
        return parts().isEmpty();
    }

    /**
     * Returns how much an erasure changes or takes.
     *
     * @return how many records, entries and places are neither kept nor forbid it: 0 or more
     */
    default long total() {
        return parts().stream()
                .filter(part -> part.treatment() != Treatment.KEEP && part.treatment() != Treatment.BLOCK)
                .mapToLong(TracePart::count)
                .sum();
    }

    /**
     * Draws it for people.
     *
     * @return lines of text without a line feed at the end
     */
    default String tree() {
        return tree((treatment, words) -> words);
    }

    /**
     * Draws it for people, with the words for what becomes of the parts as the caller wants them: in colour on a terminal, say.
     *
     * @param words makes of a treatment and the words for it what is to stand there
     * @return lines of text without a line feed at the end
     */
    String tree(BiFunction<Treatment, String, String> words);
}
