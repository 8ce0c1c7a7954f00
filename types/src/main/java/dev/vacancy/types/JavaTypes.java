package dev.vacancy.types;

import com.palantir.javapoet.ArrayTypeName;
import com.palantir.javapoet.ClassName;
import com.palantir.javapoet.TypeName;
import dev.vacancy.catalog.Column;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.sql.Types;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.util.Locale;
import java.util.UUID;

/** The Java type of a column's values. */
final class JavaTypes {
    private JavaTypes() {}

    /** The type; {@code Object} where each database has its own. */
    static TypeName of(Column column) {
        String name = column.typeName().toLowerCase(Locale.ROOT);
        if (name.equals("uuid")) {
            return ClassName.get(UUID.class);
        }
        if (name.startsWith("timestamptz") || name.contains("with time zone")) {
            return name.startsWith("time ") || name.startsWith("time(")
                    ? ClassName.OBJECT
                    : ClassName.get(OffsetDateTime.class);
        }
        return switch (column.jdbcType()) {
            case Types.BOOLEAN -> TypeName.BOOLEAN.box();
            case Types.BIT -> name.startsWith("bit") ? ClassName.OBJECT : TypeName.BOOLEAN.box();
            case Types.TINYINT, Types.SMALLINT -> TypeName.INT.box();
            case Types.INTEGER -> name.contains("unsigned") ? TypeName.LONG.box() : TypeName.INT.box();
            case Types.BIGINT -> name.contains("unsigned") ? ClassName.get(BigInteger.class) : TypeName.LONG.box();
            case Types.DECIMAL, Types.NUMERIC -> ClassName.get(BigDecimal.class);
            case Types.REAL, Types.FLOAT, Types.DOUBLE -> TypeName.DOUBLE.box();
            case Types.CHAR, Types.VARCHAR, Types.LONGVARCHAR, Types.CLOB, Types.NCHAR, Types.NVARCHAR, Types.NCLOB ->
                ClassName.get(String.class);
            case Types.DATE -> ClassName.get(LocalDate.class);
            case Types.TIME -> ClassName.get(LocalTime.class);
            case Types.TIMESTAMP -> ClassName.get(LocalDateTime.class);
            case Types.TIMESTAMP_WITH_TIMEZONE -> ClassName.get(OffsetDateTime.class);
            case Types.BINARY, Types.VARBINARY, Types.LONGVARBINARY, Types.BLOB -> ArrayTypeName.of(TypeName.BYTE);
            default -> ClassName.OBJECT;
        };
    }
}
