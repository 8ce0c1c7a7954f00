package dev.vacancy.examples.web.tasks;

import dev.vacancy.By;
import dev.vacancy.Vacancy;
import dev.vacancy.web.DeletionServlet;
import java.util.List;
import java.util.Optional;
import javax.sql.DataSource;

/** Offer the deletion of two tables over HTTP: the types that an application names for it. */
final class OfferOverHttp {
    private OfferOverHttp() {}

    static DeletionServlet servlet(DataSource dataSource) {
        return new DeletionServlet(
                Vacancy.over(dataSource),
                List.of("hive", "keeper"),
                request -> Optional.ofNullable(request.getRemoteUser()).map(By::user),
                (by, action, table) -> by.actor().equals("odile"));
    }
}
