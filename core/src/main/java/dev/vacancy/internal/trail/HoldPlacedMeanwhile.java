package dev.vacancy.internal.trail;

/**
 * Records were put on hold while a run that may have taken them was under way.
 *
 * @since 0.1
 */
public final class HoldPlacedMeanwhile extends RuntimeException {
    private static final long serialVersionUID = 1L;

    private final String table;

    HoldPlacedMeanwhile(String table) {
        super("Records of " + table + " were put on hold");
        this.table = table;
    }

    /**
     * Returns the table of the held records.
     *
     * @return its name
     */
    public String table() {
        return table;
    }
}
