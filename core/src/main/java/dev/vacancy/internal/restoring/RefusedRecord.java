package dev.vacancy.internal.restoring;

import dev.vacancy.NotAsPlannedException;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.Conflict;
import dev.vacancy.internal.dialect.Dialect;
import java.sql.SQLException;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/** A record that the database didn't take as it was, when that was tried. */
final class RefusedRecord extends RuntimeException {
    private static final long serialVersionUID = 1L;

    /** Classes of states in which a database couldn't do what it was told, whatever the data is. */
    private static final Set<String> UNABLE = Set.of("08", "25", "40", "42", "53", "55", "57", "58");

    private final transient Table table;
    private final transient String key;

    RefusedRecord(Table table, RestorableRow row, Exception cause) {
        super(cause);
        this.table = table;
        this.key = row.entry().keyText();
    }

    /** One of many, as they were all looked at together in the end. */
    RefusedRecord(Table table, SQLException cause) {
        super(cause);
        this.table = table;
        this.key = "(one of the records)";
    }

    /**
     * Whether the database has judged data (ISO/IEC 9075-2, section 24.1: classes 22, 23 and 44, and whatever triggers raise): it could be reached,
     * could work, and waited for nobody.
     */
    static boolean isByData(SQLException failure, Dialect dialect) {
        SQLException last = failure.getNextException() == null ? failure : failure.getNextException();
        String state = last.getSQLState();
        return !dialect.isLockFailure(last)
                && (state == null || !UNABLE.contains(state.substring(0, Math.min(2, state.length()))));
    }

    Table table() {
        return table;
    }

    /**
     * Tells what stands in the way.
     *
     * @param judges the names of what may have refused it; a driver's own words may show what nobody should see
     */
    Conflict conflict(List<String> judges) {
        if (getCause() instanceof NotAsPlannedException otherwise) {
            String record = table + " " + key;
            String said = otherwise.problem().replace(record, "it");
            String reason = Character.toLowerCase(said.charAt(0)) + said.substring(1, said.length() - 1);
            return new Conflict(table.name(), key, reason, otherwise.remedy().replace("Nothing was changed. ", ""));
        }
        String message = String.valueOf(((SQLException) getCause()).getMessage());
        String judge = judges.stream()
                .filter(name -> message.toLowerCase(Locale.ROOT).contains(name.toLowerCase(Locale.ROOT)))
                .max(Comparator.comparing(String::length))
                .orElse("a constraint, a trigger or a rule");
        return new Conflict(
                table.name(),
                key,
                judge + " of " + table + " refuses it",
                "Change that, or whatever it collides with.");
    }
}
