package dev.vacancy.internal.dialect;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;

/**
 * Which part of a table's full name in JDBC metadata people know as its schema.
 *
 * @since 0.1
 */
public enum Namespace {
    /** The schema. */
    SCHEMA {
        @Override
        public String own(Connection connection) throws SQLException {
            return connection.getSchema();
        }

        @Override
        public String of(ResultSet row, String prefix) throws SQLException {
            return row.getString(prefix + "_SCHEM");
        }

        @Override
        public String catalog(Connection connection, String schema) throws SQLException {
            return connection.getCatalog();
        }

        @Override
        public String schema(String schema) {
            return schema;
        }
    },
    /** The catalog; there is no schema below it. */
    CATALOG {
        @Override
        public String own(Connection connection) throws SQLException {
            return connection.getCatalog();
        }

        @Override
        public String of(ResultSet row, String prefix) throws SQLException {
            return row.getString(prefix + "_CAT");
        }

        @Override
        public String catalog(Connection connection, String schema) {
            return schema;
        }

        @Override
        public String schema(String schema) {
            return null;
        }
    },
    /** Neither; a table's name is all there is. */
    NONE {
        @Override
        public String own(Connection connection) {
            return "";
        }

        @Override
        public String of(ResultSet row, String prefix) {
            return "";
        }

        @Override
        public String catalog(Connection connection, String schema) {
            return null;
        }

        @Override
        public String schema(String schema) {
            return null;
        }
    };

    /**
     * Returns the schema that a connection means when a statement names none.
     *
     * @param connection an open connection
     * @return its name as stored, empty where there are no schemas
     * @throws SQLException when the database doesn't answer
     */
    public abstract String own(Connection connection) throws SQLException;

    /**
     * Reads the schema from a row of metadata.
     *
     * @param row a row that names a table
     * @param prefix what the names of its columns begin with, such as {@code TABLE} or {@code PKTABLE}
     * @return the schema's name as stored, empty where there are none
     * @throws SQLException when the row has no such column
     */
    public abstract String of(ResultSet row, String prefix) throws SQLException;

    /**
     * Returns what metadata takes as the catalog of a table.
     *
     * @param connection an open connection
     * @param schema the table's schema, or null for tables of any
     * @return the catalog's name, or null for any
     * @throws SQLException when the database doesn't answer
     */
    public abstract String catalog(Connection connection, String schema) throws SQLException;

    /**
     * Returns what metadata takes as the schema of a table.
     *
     * @param schema the table's schema
     * @return the name, or null where metadata knows none
     */
    public abstract String schema(String schema);
}
