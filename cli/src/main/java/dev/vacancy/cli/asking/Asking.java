package dev.vacancy.cli.asking;

import dev.vacancy.cli.terminal.PlainText;
import dev.vacancy.cli.terminal.Surroundings;
import java.util.Optional;
import java.util.function.Function;

/**
 * Puts a question to whoever is there.
 *
 * @param surroundings where the person is
 * @param yes whether a question that takes yes or no is answered already; one that takes a number never is
 */
public record Asking(Surroundings surroundings, boolean yes) {
    /** Whether the answer to a question is yes. */
    public boolean isYes(String question) {
        return ask(question, Optional.empty(), Asking::yes).isPresent();
    }

    private static Optional<String> yes(String answer) {
        return Optional.ofNullable(answer)
                .map(String::strip)
                .filter(word -> word.equalsIgnoreCase("yes") || word.equalsIgnoreCase("y"));
    }

    /** Returns what an answer leads to; nothing if it is no, or nobody is there. */
    public <T> Optional<T> ask(String question, Optional<String> typed, Function<String, Optional<T>> answer) {
        if (yes && typed.isEmpty()) {
            return answer.apply("yes");
        }
        if (!surroundings.terminal().isThere()) {
            surroundings
                    .err()
                    .println(PlainText.painted(question) + " There is no terminal to ask, so the answer is no"
                            + (typed.isEmpty()
                                    ? " (--yes answers yes)."
                                    : ": this one has to be typed, --yes is not enough."));
            return Optional.empty();
        }
        String prompt = typed.map(number -> " Type " + number + " to do so: ").orElse(" [y/N] ");
        return answer.apply(surroundings
                .terminal()
                .ask(PlainText.painted(question + prompt))
                .orElse(null));
    }
}
