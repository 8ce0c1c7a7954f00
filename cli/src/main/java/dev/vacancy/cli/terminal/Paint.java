package dev.vacancy.cli.terminal;

import dev.vacancy.rule.Rule;

/**
 * Tells apart by colour too, beside the words, what goes, what stays changed and what forbids a deletion (ECMA-48, select graphic
 * rendition).
 *
 * @param on whether there are colours; not where output is piped or NO_COLOR is set
 */
public record Paint(boolean on) {
    /** What sets one of the colours, or ends it, as a regular expression. */
    static final String RENDITION = "\u001B\\[(?:31|36|1;35|0)m";

    private static final String RED = "31";
    private static final String CYAN = "36";
    private static final String BOLD_MAGENTA = "1;35";

    /** The words for what becomes of children. */
    public String effect(Rule rule, String words) {
        return switch (rule) {
            case CASCADE, PART_OF -> goes(words);
            case BLOCK -> forbids(words);
            case DETACH, REASSIGN, RESET -> changes(words);
            case KEEP -> words;
        };
    }

    public String goes(String words) {
        return in(RED, words);
    }

    public String changes(String words) {
        return in(CYAN, words);
    }

    public String forbids(String words) {
        return in(BOLD_MAGENTA, words);
    }

    private String in(String rendition, String words) {
        return on ? "\u001B[" + rendition + "m" + words + "\u001B[0m" : words;
    }
}
