package dev.vacancy.cli.selecting;

import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.catalog.KeyGiven;
import dev.vacancy.catalog.Table;
import java.util.List;
import java.util.Map;
import java.util.function.Predicate;
import picocli.CommandLine.Option;

/** Who takes over the children of what goes. */
public final class HandOverOptions {
    @Option(
            names = "--reassign",
            paramLabel = "LINK=KEY",
            description = "Hand the children on a link over to another parent, where the link's rule is reassign;"
                    + " such as inspection.keeper_id=7.")
    private Map<String, String> newParents = Map.of();

    public boolean isEmpty() {
        return newParents.isEmpty();
    }

    /** Adds to a selection who takes over. */
    public Selection on(Selection selection, Vacancy vacancy) {
        return on(selection, vacancy, parent -> true);
    }

    /** Does so for the links to some tables only. */
    public Selection on(Selection selection, Vacancy vacancy, Predicate<Table> parents) {
        Selection handing = selection;
        for (Map.Entry<String, String> given : newParents.entrySet()) {
            Table parent = vacancy.catalog().link(given.getKey()).parent();
            if (parents.test(parent)) {
                KeyGiven key = parent.identity().size() > 1
                        ? new KeyGiven.ByName(KeyText.composite(parent, given.getValue()))
                        : new KeyGiven.InOrder(List.of(given.getValue()));
                handing = handing.reassigning(given.getKey(), key);
            }
        }
        return handing;
    }
}
