package dev.vacancy.property;

import dev.vacancy.testing.Engine;
import java.util.List;

/** How the tables of a world are called. */
enum Naming {
    /** As people call them. */
    PLAIN,
    /** By names that statements of ours could take for their own. */
    OURS,
    /** By names that have to be quoted wherever they stand. */
    QUOTED;

    private static final List<String> OURS_TOO =
            List.of("parent", "k", "p", "f", "vacancy_found", "json_each", "c0", "t1");

    /** The name of a table, as people give it. */
    String table(int number, Engine engine) {
        return switch (this) {
            case PLAIN -> "t" + number;
            case OURS -> OURS_TOO.get(number);
            case QUOTED -> quoted(engine).get(number);
        };
    }

    /** The name of a foreign key's column. */
    String column(String plain) {
        return this == QUOTED ? "Group " + plain : plain;
    }

    /** A name as it stands in a statement. */
    String inSql(String name, Engine engine) {
        String quote = engine == Engine.MARIADB ? "`" : "\"";
        return this == QUOTED ? quote + name.replace(quote, quote + quote) + quote : name;
    }

    /** MariaDB has no letters beyond the basic plane in names, SQLite no two names that differ by case alone. */
    private static List<String> quoted(Engine engine) {
        return List.of(
                "select",
                "Order by",
                engine == Engine.MARIADB ? "a`b" : "a\"b",
                "x.y",
                engine == Engine.MARIADB ? "bée" : "bee 🐝",
                "n".repeat(63),
                "Twin",
                engine == Engine.SQLITE ? "Triplet" : "twin");
    }
}
