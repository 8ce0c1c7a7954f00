package dev.vacancy.web;

import dev.vacancy.By;
import dev.vacancy.Permissions;
import dev.vacancy.Vacancy;
import dev.vacancy.catalog.Table;
import dev.vacancy.wording.Wording;
import jakarta.servlet.http.HttpServletRequest;
import java.util.List;

/**
 * What a servlet works on, and for whom.
 *
 * @param vacancy what does the work
 * @param tables the tables that may be named
 * @param permissions says who may do what
 * @param options what is offered besides
 */
record Offer(Vacancy vacancy, List<String> tables, Permissions permissions, WebOptions options) {
    /** Refuses a table that isn't there, before the first request does. */
    Offer {
        tables = List.copyOf(tables);
        tables.forEach(vacancy.catalog()::table);
    }

    /** What is planned and run for somebody, as far as they may. */
    Vacancy of(By by) {
        return vacancy.actingFor(by, permissions);
    }

    /** What is told of all tables at once. */
    Vacancy ofAll(By by) {
        return vacancy.actingFor(by, new OnlyOffered(permissions, this::has));
    }

    /** The words in which whoever sends a request reads. */
    Wording wording(HttpServletRequest request) {
        return options.wording().apply(Exchange.languages(request));
    }

    /** A table that isn't allowed isn't there: nobody learns that it exists. */
    Table table(String name) {
        List<String> meant = tables.contains(name)
                ? List.of(name)
                : tables.stream().filter(name::equalsIgnoreCase).toList();
        if (meant.size() != 1) {
            throw Problem.notFound();
        }
        return vacancy.catalog().table(meant.get(0));
    }

    boolean has(String table) {
        return tables.stream()
                .map(vacancy.catalog()::table)
                .anyMatch(offered -> offered.name().equals(table));
    }
}
