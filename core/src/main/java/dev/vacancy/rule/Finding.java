package dev.vacancy.rule;

/**
 * Something in schema or rules that is wrong, or that will hurt.
 *
 * @param kind what it is
 * @param where the table, link, column or line it is about
 * @param why why it matters
 * @param remedy what to do about it
 * @since 0.1
 */
public record Finding(Kind kind, String where, String why, String remedy) {
    /** What a finding is about. */
    public enum Kind {
        /** A rule or label that doesn't fit the schema; as long as it is there, nothing can be planned. */
        RULE("a rule that can't be kept"),
        /** The database doesn't enforce the links that it declares. */
        NOT_ENFORCED("links that are not enforced"),
        /** Records that this user can't see. */
        HIDDEN_RECORDS("records that can't be seen"),
        /** Something that this user may not do. */
        MISSING_RIGHT("a right that is missing"),
        /** A table whose changes can't be taken back. */
        NOT_TRANSACTIONAL("a table without transactions"),
        /** Servers that know nothing of each other's locks, or a table whose parts lie on several. */
        SEVERAL_SERVERS("a database of several servers"),
        /** Records that point at each other, none of which can go first. */
        CIRCLE("a circle that can't be opened"),
        /** ON DELETE SET NULL on a column that may not be null. */
        SET_NULL("a SET NULL that can't be done"),
        /** A table whose records can't be told from one another. */
        NO_KEY("a table without a key"),
        /** A table whose key is also its link to a parent. */
        SHARED_KEY("a record in two tables"),
        /** A foreign key that no index finds. */
        NO_INDEX("a foreign key without an index"),
        /** A link whose two ends hold values of different types. */
        LINK_TYPES("a link whose ends differ in type"),
        /** Records that point at a parent that isn't there. */
        ORPHANS("records whose parent is gone"),
        /** A run that ended in the middle. */
        CUT_OFF("a run that was cut off"),
        /** A validator of a collection that refuses what a run writes. */
        VALIDATOR("a validator that is in the way"),
        /** A marker that doesn't say when. */
        FLAG("a flag that doesn't say when"),
        /** A column whose name says that its content should be nowhere else. */
        SECRET("a secret that the trail would keep"),
        /** An object mapper's mapping that says something else than the schema, or that no rule can be made of. */
        MAPPING("a mapping that differs"),
        /** A column that is a foreign key by its name and its values, and of which nobody knows. */
        PERHAPS_LINK("a column that looks like a link");

        private final String text;

        Kind(String text) {
            this.text = text;
        }

        @Override
        public String toString() {
            return text;
        }
    }
}
