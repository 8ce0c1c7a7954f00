package dev.vacancy.rule;

/**
 * Something in the rules that doesn't fit the schema.
 *
 * @param where where the rules say it, such as {@code vacancy.yaml, line 12}
 * @param what what is wrong with it; a sentence
 * @param remedy what to write instead; a sentence
 * @since 0.1
 */
public record RuleProblem(String where, String what, String remedy) {
    /**
     * Says all three.
     *
     * @return such as {@code vacancy.yaml, line 12: There is no link 'photo.hive_nr'. Did you mean 'photo.hive_no'?}
     */
    public String text() {
        return where + ": " + what + " " + remedy;
    }
}
