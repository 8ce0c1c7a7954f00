package dev.vacancy.web;

import dev.vacancy.By;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import jakarta.servlet.http.HttpServletResponse;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Supplier;

/** What was asked for and shown last. It is held in memory, so that another process knows nothing of it. */
final class Requests {
    private static final int MOST = 1_000;
    private static final int MOST_OF_ONE = 50;
    private static final long LARGEST = 64_000_000;
    private static final long LARGEST_OF_ONE = 8_000_000;
    private static final long SIZE_OF_A_KEY = 64;
    private static final long SIZE_OF_A_PLAN = 4_000;

    private final RecentItems<UUID, Asked> asked = new RecentItems<>(
            new RecentItems.Bounds(MOST, LARGEST), new RecentItems.Bounds(MOST_OF_ONE, LARGEST_OF_ONE));
    private final RecentItems<String, Plan> shown = new RecentItems<>(
            new RecentItems.Bounds(MOST, LARGEST), new RecentItems.Bounds(MOST_OF_ONE, LARGEST_OF_ONE));

    /**
     * A deletion that somebody asked about.
     *
     * @param table the table as it was named
     * @param selection what of it
     * @param run the bulk run that it became
     */
    record Asked(String table, Selection selection, Begun run) {
        static Asked of(String table, Selection selection) {
            return new Asked(table, selection, new Begun());
        }
    }

    /** A bulk run that is begun once; whoever comes meanwhile waits for it. */
    static final class Begun {
        private UUID run;

        synchronized UUID begin(Supplier<UUID> starting) {
            if (run == null) {
                run = starting.get();
            }
            return run;
        }

        synchronized Optional<UUID> run() {
            return Optional.ofNullable(run);
        }
    }

    /** What a selection holds on to. */
    private static long size(Selection selection) {
        return SIZE_OF_A_KEY * selection.keys().size()
                + selection.criteria().map(Object::toString).map(String::length).orElse(0);
    }

    /** What a plan does: mostly the records that were selected, as they are. */
    static long size(Plan plan) {
        return SIZE_OF_A_PLAN
                + size(plan.selection())
                + plan.roots().stream()
                        .mapToLong(root -> String.valueOf(root.values()).length())
                        .sum();
    }

    UUID add(Asked request, By by) {
        UUID id = UUID.randomUUID();
        asked.put(id, request, by.actor(), size(request.selection()));
        return id;
    }

    /** A request is there for whoever made it; a colleague is shown it as well. */
    Asked find(UUID id, String table) {
        return asked.get(id)
                .filter(request -> request.table().equals(table))
                .orElseThrow(() -> Problem.of(
                        HttpServletResponse.SC_NOT_FOUND,
                        "not-found",
                        "There is no such plan any more: the last " + MOST_OF_ONE
                                + " of a person are kept, or about 8 megabytes of them.",
                        "Post the selection again."));
    }

    void show(Plan plan) {
        shown.put(plan.fingerprint(), plan, plan.by().actor(), size(plan));
    }

    /** The plan that was shown to the same person for the same, so that it can be said how a later one differs. */
    Optional<Plan> shown(AgreedFingerprints agreed, Plan now) {
        return agreed.fingerprints().stream()
                .flatMap(fingerprint -> shown.get(fingerprint).stream())
                .filter(before -> before.selection().equals(now.selection())
                        && before.by().isSameAs(now.by()))
                .findFirst();
    }
}
