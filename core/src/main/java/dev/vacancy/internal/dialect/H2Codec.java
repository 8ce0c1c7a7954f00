package dev.vacancy.internal.dialect;

import dev.vacancy.internal.catalog.ColumnType;
import java.nio.ByteBuffer;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Types;
import java.time.temporal.Temporal;
import java.util.List;
import java.util.Locale;

/** Codecs of H2. Unless it says otherwise, a value travels as the driver gives it, and stands in an image as text. */
class H2Codec implements Codec {
    private final ColumnType type;

    H2Codec(ColumnType type) {
        this.type = type;
    }

    static H2Codec of(ColumnType type) {
        if (type.isText()) {
            return new Characters(type);
        }
        if (type.isBinary() || type.jdbcType() == Types.JAVA_OBJECT) {
            return new Binary(type);
        }
        return switch (type.jdbcType()) {
            case Types.CLOB, Types.NCLOB, Types.ARRAY -> new Whole(type);
            case Types.DATE,
                    Types.TIME,
                    Types.TIMESTAMP,
                    Types.TIME_WITH_TIMEZONE,
                    Types.TIMESTAMP_WITH_TIMEZONE,
                    Types.OTHER -> new Written(type);
            default -> new H2Codec(type);
        };
    }

    /** A type without its length or its fraction is one of another length: NUMERIC alone has no digits behind the point. */
    static String withItsLength(ColumnType type) {
        String name = type.name();
        String plain = name.toUpperCase(Locale.ROOT);
        if (plain.startsWith("INTERVAL")) {
            return interval(plain, type.size(), type.scale());
        }
        return switch (plain) {
            case "CHARACTER", "CHARACTER VARYING", "VARCHAR_IGNORECASE", "BINARY", "BINARY VARYING", "DECFLOAT" ->
                name + "(" + type.size() + ")";
            case "NUMERIC", "DECIMAL" -> name + "(" + type.size() + ", " + type.scale() + ")";
            case "TIME", "TIMESTAMP" -> name + "(" + type.scale() + ")";
            case "TIME WITH TIME ZONE" -> "TIME(" + type.scale() + ") WITH TIME ZONE";
            case "TIMESTAMP WITH TIME ZONE" -> "TIMESTAMP(" + type.scale() + ") WITH TIME ZONE";
            default -> name;
        };
    }

    private static String interval(String name, int digits, int fraction) {
        if (name.equals("INTERVAL SECOND")) {
            return name + "(" + digits + ", " + fraction + ")";
        }
        String[] words = name.split(" ", -1);
        words[1] += "(" + digits + ")";
        boolean toSecond = words.length == 4 && words[3].equals("SECOND");
        return String.join(" ", words) + (toSecond ? "(" + fraction + ")" : "");
    }

    /** A date or time goes the way it came: as text. */
    static Object sent(Object value) {
        return value instanceof Temporal ? ColumnType.spelling(value) : value;
    }

    @Override
    public ColumnType type() {
        return type;
    }

    @Override
    public Fragment value(Object value) {
        return Fragment.of("?", Binding.of(value));
    }

    /**
     * For H2's LIKE an underscore is a unit of UTF-16, so that one character beyond the first plane takes two of them; its regular
     * expressions go by characters.
     */
    @Override
    public Fragment like(String column, String pattern) {
        Fragment usual = Codec.super.like(column, pattern);
        if (pattern.indexOf('_') < 0) {
            return usual;
        }
        StringBuilder regular = new StringBuilder("\\A");
        pattern.codePoints().forEach(point -> {
            switch (point) {
                case '%' -> regular.append(".*");
                case '_' -> regular.append('.');
                default -> regular.append(String.format("\\x{%x}", point));
            }
        });
        String regularly = "regexp_like(" + column + ", ?, '" + (isTextFolded() ? "in" : "n") + "')";
        Fragment otherwise =
                Fragment.of(regularly, Binding.of(regular.append("\\z").toString()));
        return Fragment.join(
                        " or ",
                        List.of(
                                Fragment.allOf(List.of(beyondFirstPlane(column, "not "), usual)),
                                Fragment.allOf(List.of(beyondFirstPlane(column, ""), otherwise))))
                .between("(", ")");
    }

    /** Whether a text has characters beyond the first plane, or hasn't. */
    private static Fragment beyondFirstPlane(String column, String not) {
        return Fragment.of(not + "regexp_like(" + column + ", ?)", Binding.of("[\\x{10000}-\\x{10ffff}]"));
    }

    @Override
    public String text(String column) {
        return "cast(" + column + " as varchar)";
    }

    @Override
    public String imageText(String column) {
        return text(column);
    }

    @Override
    public Fragment fromImage(Object value) {
        return Fragment.of("?", Binding.of(value));
    }

    /** Dates, times and what only the database knows: read as its text. */
    private static final class Written extends H2Codec {
        Written(ColumnType type) {
            super(type);
        }

        @Override
        public String exact(String column) {
            return text(column);
        }

        @Override
        public Object readExact(ResultSet row, int index) throws SQLException {
            String text = row.getString(index);
            return text == null ? null : type().read(text);
        }

        @Override
        public boolean comesBack() {
            return !type().name().toUpperCase(Locale.ROOT).startsWith("ROW");
        }

        @Override
        public Fragment fromImage(Object value) {
            return Fragment.of(type().name().equalsIgnoreCase("JSON") ? "? format json" : "?", Binding.of(value));
        }
    }

    /** Read as it is: a text of ours may not be longer than a character string is. */
    private static class AsItIs extends H2Codec {
        AsItIs(ColumnType type) {
            super(type);
        }

        @Override
        public String imageText(String column) {
            return column;
        }
    }

    /** Text. A value that is padded can be asked for without its blanks. */
    private static final class Characters extends AsItIs {
        Characters(ColumnType type) {
            super(type);
        }

        @Override
        public boolean isTextFolded() {
            return type().name().equalsIgnoreCase("VARCHAR_IGNORECASE");
        }

        @Override
        public String keyText(String column) {
            return type().isPadded() ? "rtrim(" + column + ")" : column;
        }

        @Override
        public String keyOf(Object value) {
            return type().isPadded() && value instanceof String text ? text.stripTrailing() : super.keyOf(value);
        }
    }

    /** Large texts and arrays, read as they are. */
    private static final class Whole extends AsItIs {
        Whole(ColumnType type) {
            super(type);
        }

        @Override
        public Object readImage(ResultSet row, int index) throws SQLException {
            return type().jdbcType() == Types.ARRAY ? Values.detached(row, index) : row.getString(index);
        }

        @Override
        public Fragment fromImage(Object value) {
            if (value instanceof List<?> elements) {
                Object[] sent = elementsOf(elements);
                return Fragment.of(
                        "?",
                        (statement, index) -> statement.setArray(
                                index, statement.getConnection().createArrayOf("", sent)));
            }
            return super.fromImage(value);
        }

        private static Object[] elementsOf(List<?> elements) {
            return elements.stream()
                    .map(element -> element instanceof List<?> inner ? elementsOf(inner) : KeySet.toDriver(element))
                    .toArray();
        }
    }

    /** Bytes, read as they are. */
    private static final class Binary extends AsItIs {
        Binary(ColumnType type) {
            super(type);
        }

        @Override
        public Object readImage(ResultSet row, int index) throws SQLException {
            byte[] bytes = row.getBytes(index);
            return bytes == null ? null : ByteBuffer.wrap(bytes);
        }
    }
}
