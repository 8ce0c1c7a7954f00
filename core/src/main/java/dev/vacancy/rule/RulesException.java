package dev.vacancy.rule;

import dev.vacancy.failure.InvalidRequestException;
import java.util.List;

/**
 * Rules that can't be kept, all of them told at once.
 *
 * @since 0.1
 */
public final class RulesException extends InvalidRequestException {
    private static final long serialVersionUID = 1L;

    private final transient List<String> problems;

    RulesException(List<String> problems) {
        super(String.join(System.lineSeparator(), problems), "Mend the rules and start again.");
        this.problems = List.copyOf(problems);
    }

    /**
     * Returns what is wrong.
     *
     * @return a sentence for each problem, with its origin in front
     */
    public List<String> problems() {
        return problems;
    }
}
