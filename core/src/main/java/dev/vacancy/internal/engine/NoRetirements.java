package dev.vacancy.internal.engine;

import dev.vacancy.By;
import dev.vacancy.internal.running.NotOffered;
import dev.vacancy.retirement.Retired;
import dev.vacancy.retirement.RetirementPlan;
import dev.vacancy.retirement.Retirements;
import java.nio.file.Path;
import java.util.List;
import java.util.UUID;

/** What has retired where nothing can. */
final class NoRetirements implements Retirements {
    @Override
    public List<Retired> list() {
        return List.of();
    }

    @Override
    public List<Retired> due() {
        return List.of();
    }

    @Override
    public RetirementPlan planDrop(UUID id, Path folder, By by) {
        throw refusal();
    }

    @Override
    public RetirementPlan planReturn(UUID id, By by) {
        throw refusal();
    }

    /** Says that nothing retires. */
    static RuntimeException refusal() {
        return NotOffered.of("The retirement of columns and tables");
    }
}
