package dev.vacancy.internal.catalog;

/** How far a word is from another: the letters that have to be added, removed or changed. */
public final class EditDistance {
    private EditDistance() {}

    /**
     * Counts what has to be changed.
     *
     * @param one a word
     * @param other another
     * @return 0 for the same
     */
    public static int between(String one, String other) {
        int[] before = new int[other.length() + 1];
        for (int j = 0; j < before.length; j++) {
            before[j] = j;
        }
        for (int i = 1; i <= one.length(); i++) {
            int[] row = new int[before.length];
            row[0] = i;
            for (int j = 1; j < row.length; j++) {
                int changed = before[j - 1] + (one.charAt(i - 1) == other.charAt(j - 1) ? 0 : 1);
                row[j] = Math.min(changed, 1 + Math.min(before[j], row[j - 1]));
            }
            before = row;
        }
        return before[other.length()];
    }
}
