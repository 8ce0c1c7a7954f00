package dev.vacancy.internal.trail;

import dev.vacancy.internal.dialect.Binding;
import java.nio.ByteBuffer;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Types;

/**
 * Writes entries one behind the other, many at a time.
 *
 * @since 0.1
 */
public final class EntryWriter implements AutoCloseable {
    private static final int BATCH = 500;
    private static final long MOST_CHARACTERS = 1_000_000;

    private final PreparedStatement insert;
    private final EntrySealing sealing = new EntrySealing();
    private int open;
    private long characters;

    EntryWriter(TrailTables tables, Connection connection) throws SQLException {
        this.insert = connection.prepareStatement(tables.entryTable().insertion(tables.dialect(), EntryReader.COLUMNS));
    }

    /**
     * Adds an entry.
     *
     * @param heading what is written beside the content
     * @param place the entry's number in its step, from 1
     * @param key the record's key; null of a table without one
     * @param content the record as an image; null where another entry has it
     * @param about the entry that this one is about, or null
     * @throws SQLException when the database refuses
     */
    public void add(Recorder.Heading heading, long place, String key, String content, Reference about)
            throws SQLException {
        write(sealing.seal(heading, place, key, content, about));
    }

    /**
     * Draws a salt for what is left of an entry.
     *
     * @return 16 bytes
     */
    public ByteBuffer salt() {
        return sealing.salt();
    }

    /** Writes an entry as it is. */
    void write(StoredEntry entry) throws SQLException {
        insert.setLong(1, entry.run());
        insert.setInt(2, entry.step());
        insert.setLong(3, entry.place());
        insert.setString(4, entry.word());
        insert.setString(5, entry.table());
        insert.setString(6, entry.key());
        insert.setString(7, entry.content());
        insert.setString(8, entry.altered());
        if (entry.about() == null) {
            insert.setNull(9, Types.BIGINT);
            insert.setNull(10, Types.INTEGER);
            insert.setNull(11, Types.BIGINT);
        } else {
            insert.setLong(9, entry.about().run());
            insert.setInt(10, entry.about().step());
            insert.setLong(11, entry.about().place());
        }
        if (entry.erasedBy() == null) {
            insert.setNull(12, Types.BIGINT);
        } else {
            insert.setLong(12, entry.erasedBy());
        }
        Binding.of(entry.seal()).bind(insert, 13);
        Binding.of(entry.digest()).bind(insert, 14);
        insert.addBatch();
        characters += entry.content() == null ? 0 : entry.content().length();
        if (++open == BATCH || characters > MOST_CHARACTERS) {
            flush();
        }
    }

    /**
     * Sends what was added.
     *
     * @throws SQLException when the database refuses
     */
    public void flush() throws SQLException {
        if (open > 0) {
            insert.executeBatch();
            open = 0;
            characters = 0;
        }
    }

    @Override
    public void close() throws SQLException {
        insert.close();
    }
}
