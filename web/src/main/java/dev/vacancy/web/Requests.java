package dev.vacancy.web;

import dev.vacancy.criteria.Selection;
import dev.vacancy.plan.Plan;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/** What was asked for and shown last. It is held in memory, so that another process knows nothing of it. */
final class Requests {
    private static final int MOST = 1_000;
    private static final int MOST_SHOWN = 200;

    private final Map<UUID, Asked> asked = latest(MOST);
    private final Map<String, Plan> shown = latest(MOST_SHOWN);
    private final Map<UUID, UUID> begun = latest(MOST);

    /**
     * A deletion that somebody asked about.
     *
     * @param actor who
     * @param table the table as it was named
     * @param selection what of it
     */
    record Asked(String actor, String table, Selection selection) {}

    private static <K, V> Map<K, V> latest(int most) {
        return Collections.synchronizedMap(new LinkedHashMap<>() {
            private static final long serialVersionUID = 1L;

            @Override
            protected boolean removeEldestEntry(Map.Entry<K, V> eldest) {
                return size() > most;
            }
        });
    }

    UUID add(Asked request) {
        UUID id = UUID.randomUUID();
        asked.put(id, request);
        return id;
    }

    /** A request is there for whoever made it; a colleague is shown it as well. */
    Asked find(UUID id, String table) {
        return Optional.ofNullable(asked.get(id))
                .filter(request -> request.table().equals(table))
                .orElseThrow(Problem::notFound);
    }

    void show(Plan plan) {
        shown.put(Answer.tag(plan.fingerprint()), plan);
    }

    /** The plan that was shown to the same person for the same, so that it can be said how a later one differs. */
    Optional<Plan> shown(String tag, Plan now) {
        return Optional.ofNullable(shown.get(tag))
                .filter(before ->
                        before.selection().words().equals(now.selection().words())
                                && before.selection().isForGood()
                                        == now.selection().isForGood()
                                && before.by().actor().equals(now.by().actor()));
    }

    /** The bulk run that a request became, begun once. */
    UUID begin(UUID request, java.util.function.Supplier<UUID> starting) {
        return begun.computeIfAbsent(request, missing -> starting.get());
    }

    Optional<UUID> begun(UUID request) {
        return Optional.ofNullable(begun.get(request));
    }
}
