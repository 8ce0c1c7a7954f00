package dev.vacancy.bulk;

import dev.vacancy.catalog.RecordContent;
import java.sql.Connection;
import java.util.Optional;

/** An exemption with its name. */
record Named(String name, Exemption.Test test) implements Exemption {
    static final int LONGEST = 100;

    @Override
    public Optional<String> reasonToKeep(RecordContent record, Connection connection) {
        return test.reasonToKeep(record, connection);
    }

    @Override
    public String toString() {
        return name.isEmpty() ? "no exemption" : "exemption '" + name + "'";
    }
}
