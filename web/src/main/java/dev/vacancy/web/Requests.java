package dev.vacancy.web;

import dev.vacancy.criteria.Selection;
import dev.vacancy.plan.Plan;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Supplier;

/** What was asked for and shown last. It is held in memory, so that another process knows nothing of it. */
final class Requests {
    private static final int MOST = 1_000;
    private static final int MOST_SHOWN = 200;
    private static final long MOST_KEYS = 200_000;

    private final Latest<UUID, Asked> asked = new Latest<>(MOST, MOST_KEYS, one -> size(one.selection()));
    private final Latest<String, Plan> shown = new Latest<>(MOST_SHOWN, MOST_KEYS, plan -> size(plan.selection()));

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

    private static long size(Selection selection) {
        return selection.keys().size();
    }

    UUID add(Asked request) {
        UUID id = UUID.randomUUID();
        asked.put(id, request);
        return id;
    }

    /** A request is there for whoever made it; a colleague is shown it as well. */
    Asked find(UUID id, String table) {
        return asked.get(id).filter(request -> request.table().equals(table)).orElseThrow(Problem::notFound);
    }

    void show(Plan plan) {
        shown.put(plan.fingerprint(), plan);
    }

    /** The plan that was shown to the same person for the same, so that it can be said how a later one differs. */
    Optional<Plan> shown(Agreed agreed, Plan now) {
        return agreed.fingerprints().stream()
                .flatMap(fingerprint -> shown.get(fingerprint).stream())
                .filter(before -> before.selection().equals(now.selection())
                        && before.by().isSameAs(now.by()))
                .findFirst();
    }
}
