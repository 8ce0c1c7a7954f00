package dev.vacancy.internal.engine;

import dev.vacancy.By;
import dev.vacancy.Permissions.Action;
import dev.vacancy.retirement.Retired;
import dev.vacancy.retirement.RetirementPlan;
import dev.vacancy.retirement.Retirements;
import java.nio.file.Path;
import java.util.List;
import java.util.UUID;

/**
 * What has retired, as far as somebody may see and change it.
 *
 * @param all all of it
 * @param person whoever acts
 */
record PermittedRetirements(Retirements all, ActingUser person) implements Retirements {
    @Override
    public List<Retired> list() {
        return permitted(all.list());
    }

    @Override
    public List<Retired> due() {
        return permitted(all.due());
    }

    private List<Retired> permitted(List<Retired> retired) {
        return retired.stream()
                .filter(one -> person.may(Action.RETIRE, one.table()))
                .toList();
    }

    @Override
    public RetirementPlan planDrop(UUID id, Path folder, By by) {
        return permitted(all.planDrop(id, folder, by));
    }

    @Override
    public RetirementPlan planReturn(UUID id, By by) {
        return permitted(all.planReturn(id, by));
    }

    private RetirementPlan permitted(RetirementPlan plan) {
        person.require(plan);
        return plan;
    }
}
