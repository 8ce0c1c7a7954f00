package dev.vacancy.rule;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import java.util.List;
import java.util.stream.Collectors;

/**
 * Rules that can't be kept, all of them told at once.
 *
 * @since 0.1
 */
public final class RulesException extends InvalidRequestException {
    private static final long serialVersionUID = 1L;

    private final transient List<RuleProblem> problems;

    /**
     * Makes one.
     *
     * @param problems what is wrong, at least one
     */
    public RulesException(List<RuleProblem> problems) {
        super(
                FailureCode.RULES,
                problems.stream().map(RuleProblem::text).collect(Collectors.joining(System.lineSeparator())),
                "Fix the rules and restart.");
        this.problems = List.copyOf(problems);
    }

    /**
     * Returns what is wrong.
     *
     * @return the problems in the order of the rules
     */
    public List<RuleProblem> problems() {
        return problems;
    }
}
