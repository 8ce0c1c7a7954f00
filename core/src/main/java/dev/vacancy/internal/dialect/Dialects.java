package dev.vacancy.internal.dialect;

import java.util.List;

/** Every database that Vacancy speaks to. A further one is a further line here. */
final class Dialects {
    static final List<Dialect> ALL = List.of(
            new H2Dialect(),
            new PostgresDialect(),
            new MariaDbDialect("MariaDB", "max_recursive_iterations"),
            new MariaDbDialect("MySQL", "cte_max_recursion_depth"),
            new SqliteDialect());

    private Dialects() {}
}
