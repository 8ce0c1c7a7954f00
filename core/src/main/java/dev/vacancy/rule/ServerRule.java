package dev.vacancy.rule;

import java.util.Locale;

/**
 * What an application knows of the servers that its database consists of, where there are several, and the database can't tell. It lets
 * through what is refused otherwise.
 *
 * @since 0.1
 */
public enum ServerRule {
    /**
     * All who write, the application and whatever else, do so by one server at a time, so that the locks of one are known to all. Without it,
     * nothing is deleted by several writing servers that only a lock would keep whole.
     */
    SINGLE_WRITER,
    /**
     * A deletion that reaches records on other servers may be done part by part, as no commit spans the servers: the children's side first,
     * in a bulk run only, which goes on where it was interrupted. Without it such a deletion is refused. It needs rules without an audit
     * trail, since what is written down here and what goes there couldn't be one.
     */
    PART_BY_PART;

    /**
     * Returns the rule as configuration has it.
     *
     * @return such as {@code single-writer}
     */
    @Override
    public String toString() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
}
