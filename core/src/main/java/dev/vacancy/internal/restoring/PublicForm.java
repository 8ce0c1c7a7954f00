package dev.vacancy.internal.restoring;

import dev.vacancy.By;
import dev.vacancy.history.TrailRun;
import dev.vacancy.internal.trail.RunFacts;
import dev.vacancy.internal.trail.StoredRun;
import java.time.Instant;

/** Says what is stored in the words of an application. */
final class PublicForm {
    private PublicForm() {}

    static TrailRun run(StoredRun run) {
        RunFacts facts = run.facts();
        By by = By.user(facts.actor()).because(facts.reason().orElse(null));
        return new TrailRun(
                run.place(),
                facts.runId(),
                facts.kind().word(),
                by,
                facts.colleague(),
                Instant.parse(facts.at()),
                facts.table(),
                facts.selection(),
                facts.counts(),
                facts.partOf(),
                facts.about(),
                run.entries(),
                run.digest());
    }
}
