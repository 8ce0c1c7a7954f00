package dev.vacancy.testing;

import dev.vacancy.databases.EmptyDatabase;
import java.nio.file.Path;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import javax.sql.DataSource;
import org.h2.jdbcx.JdbcDataSource;

/** The databases that every behaviour is tested on. Each test gets an empty one of its own. */
public enum Engine {
    H2,
    POSTGRESQL,
    MARIADB,
    SQLITE;

    /**
     * Ends the URL of a file of H2 whose processes are killed: with its usual half second, a transaction can be left by half.
     * Each URL has to say it; what H2 keeps of it in the file it doesn't go by.
     */
    public static final String WHOLE_TRANSACTIONS = ";WRITE_DELAY=0";

    private static final Pattern LATER_KEY = Pattern.compile(
            "alter table (?<table>\\w+|\"(?:[^\"]|\"\")+\") add (?<key>(constraint \\w+ )?foreign key .*)");

    /** Makes an empty database. */
    public Database database() {
        DataSource empty = EmptyDatabase.valueOf(name()).create();
        if (empty instanceof JdbcDataSource h2) {
            h2.setURL(h2.getURL() + ";LOCK_TIMEOUT=200");
        }
        return new Database(this, empty);
    }

    /** Makes an empty database of H2 in a file, which is closed whenever nobody is connected to it. */
    public static Database h2In(Path file) {
        JdbcDataSource source = new JdbcDataSource();
        source.setURL("jdbc:h2:file:" + file + WHOLE_TRANSACTIONS);
        source.setUser("sa");
        return new Database(H2, source);
    }

    /** Says a statement in standard SQL the way this database takes it, which for some is several statements. */
    List<String> speak(String sql) {
        Matcher later = LATER_KEY.matcher(sql);
        if (this == SQLITE && later.matches()) {
            // SQLite's documentation, "Making Other Kinds Of Table Schema Changes": constraints are added to the text.
            return List.of(
                    "pragma writable_schema = on",
                    "update sqlite_schema set sql = substr(sql, 1, length(sql) - 1) || ', "
                            + later.group("key").replace("'", "''") + ")' where type = 'table' and name = '"
                            + later.group("table").replaceAll("^\"|\"$", "").replace("\"\"", "\"")
                            + "'",
                    "pragma writable_schema = reset");
        }
        return List.of(this == MARIADB ? inMariaDb(sql) : sql);
    }

    /** Backslashes escape, and names stand in backquotes; what stands between two apostrophes is text. */
    private static String inMariaDb(String sql) {
        String[] parts = sql.replace("\\", "\\\\").split("'", -1);
        for (int i = 0; i < parts.length; i += 2) {
            parts[i] = parts[i].replace('"', '`');
        }
        return String.join("'", parts);
    }
}
