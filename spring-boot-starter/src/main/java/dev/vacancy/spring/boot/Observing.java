package dev.vacancy.spring.boot;

import dev.vacancy.Vacancy;
import dev.vacancy.internal.engine.Engine;
import dev.vacancy.internal.engine.WorkObserver;
import io.micrometer.observation.Observation;
import io.micrometer.observation.ObservationRegistry;
import java.util.function.Supplier;

/** Makes an observation of each piece of work. */
final class Observing implements WorkObserver {
    private final ObservationRegistry registry;

    private Observing(ObservationRegistry registry) {
        this.registry = registry;
    }

    static Vacancy by(ObservationRegistry registry, Vacancy vacancy) {
        return Engine.of(vacancy).withObserver(new Observing(registry)).entry();
    }

    @Override
    public <T> T around(String work, String table, Supplier<T> supplier) {
        return Observation.createNotStarted("vacancy." + work, registry)
                .contextualName(work + " " + table)
                .lowCardinalityKeyValue("table", table.isEmpty() ? "none" : table)
                .observe(supplier);
    }
}
