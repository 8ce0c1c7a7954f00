package dev.vacancy.internal.restoring;

import dev.vacancy.By;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.running.Runner;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.internal.trail.RunNumber;
import dev.vacancy.internal.trail.TrailTables;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.function.LongConsumer;

/** Erases a record from the trail in the transaction that deletes it. While the record is there, its key is read as the trail spells it. */
final class ErasureWithRow implements Runner.Erasing {
    private final Erasure erasure;
    private final TrailTables tables;
    private final Dialect dialect;
    private final Table table;
    private final Key key;
    private final LongConsumer erased;
    private String text;

    ErasureWithRow(Erasure erasure, TrailTables tables, Dialect dialect, Table table, Key key, LongConsumer erased) {
        this.erasure = erasure;
        this.tables = tables;
        this.dialect = dialect;
        this.table = table;
        this.key = key;
        this.erased = erased;
    }

    @Override
    public void begin(Connection connection) throws SQLException {
        text = Erasure.keyText(dialect, connection, table, key);
    }

    @Override
    public void end(Connection connection, Passage passage) throws SQLException {
        tables.beginWriting(connection);
        new Chain(tables).lock(connection);
        By by = passage.plan().proposal().by();
        // Earlier records of that key may have been held, which the holds on this one don't tell.
        erasure.plan(connection, table, text, by).refuseBlocked();
        erased.accept(erasure.carryOut(passage, passage.plan(), connection, table.name(), text, RunNumber.newId()));
    }
}
