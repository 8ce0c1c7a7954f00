package dev.vacancy.internal.chunking;

import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * What is done of records that take more than one transaction, in words that stay beside them until they are through: whatever becomes of them
 * then, nobody is told that nothing was changed.
 *
 * @param text the parts that are done, and the one that was begun
 */
record Begun(String text) {
    private static final String BEGINNING = " on other servers was begun";
    private static final String BETWEEN = ", ";
    private static final int LONGEST = 1_000;

    static final Begun NOTHING = new Begun("");

    static Begun of(String text) {
        return text == null ? NOTHING : new Begun(text);
    }

    boolean isNothing() {
        return text.isEmpty();
    }

    /** Whether it is written down already that the part of a table on other servers may be done, whatever becomes of this transaction. */
    boolean isAnnounced(String table) {
        return text.equals(table + BEGINNING) || text.endsWith(BETWEEN + table + BEGINNING);
    }

    Begun announcing(String table) {
        return new Begun(after(table + BEGINNING));
    }

    /**
     * Adds what a part has deleted.
     *
     * @param deleted how many records by table
     * @param beside how many other records they may have been below
     */
    Begun with(Map<String, Long> deleted, int beside) {
        String counts = deleted.entrySet().stream()
                .map(table -> String.format(Locale.ROOT, "%,d of %s", table.getValue(), table.getKey()))
                .collect(Collectors.joining(", "));
        return counts.isEmpty()
                ? new Begun(done())
                : new Begun(after(
                        counts + (beside > 0 ? " below it and " + beside + " others" : " below it") + " are gone"));
    }

    /** What was last is kept: by it a beginning is known again. */
    private String after(String part) {
        String all = Stream.of(done(), part).filter(text -> !text.isEmpty()).collect(Collectors.joining(BETWEEN));
        return all.length() <= LONGEST ? all : "…" + all.substring(all.length() - LONGEST + 1);
    }

    /** What is done, without the part that was begun. */
    private String done() {
        int beginning = text.endsWith(BEGINNING) ? Math.max(0, text.lastIndexOf(BETWEEN)) : text.length();
        return text.substring(0, beginning);
    }

    /** Puts it before what came of the record. */
    String before(Optional<String> reason) {
        return isNothing() ? reason.orElse("") : text + "; " + reason.orElse("the rest is still to be done");
    }
}
