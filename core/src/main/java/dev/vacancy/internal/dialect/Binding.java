package dev.vacancy.internal.dialect;

import java.sql.PreparedStatement;
import java.sql.SQLException;

/**
 * One value on its way into a statement.
 *
 * @since 0.1
 */
@FunctionalInterface
public interface Binding {
    /**
     * Binds a value as the driver takes it.
     *
     * @param value a value; binary as a {@link ByteBuffer}
     * @return its binding
     */
    static Binding of(Object value) {
        Object taken = KeySet.toDriver(value);
        return (statement, index) -> statement.setObject(index, taken);
    }

    /**
     * Sets the value.
     *
     * @param statement the statement to bind it in
     * @param index the position of its question mark, from 1
     * @throws SQLException when the driver refuses the value
     */
    void bind(PreparedStatement statement, int index) throws SQLException;
}
