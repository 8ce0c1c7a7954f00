package dev.vacancy.internal.retiring;

import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.internal.dialect.Retiree;
import dev.vacancy.internal.planning.Gated;
import dev.vacancy.internal.planning.Scope;
import dev.vacancy.retirement.Dependent;
import dev.vacancy.retirement.Dependent.Fate;
import dev.vacancy.retirement.RetirementPlan;
import dev.vacancy.retirement.RetirementStep;
import dev.vacancy.rule.Consent;
import dev.vacancy.wording.Wording;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.UUID;

/**
 * A step of a retirement as it was worked out, with all that the gate looks at.
 *
 * @param retiree the names as stored
 * @param along what was named to go along
 * @param script how it is done and undone
 * @since 0.1
 */
public record PlannedRetirement(
        UUID id,
        RetirementStep step,
        String table,
        Optional<String> column,
        Retiree retiree,
        Set<String> along,
        By by,
        Instant madeAt,
        Instant dueAt,
        Found found,
        List<Path> files,
        Script script,
        String fingerprint,
        Consent demanded,
        boolean colleague,
        Scope scope)
        implements RetirementPlan, Gated {
    /**
     * What was found of it.
     *
     * @param records how many records have it
     * @param filled how many of them hold anything
     * @param dependents what stands on it
     * @param use whether anything uses it
     * @param unknown what the database can't tell
     * @param restorableEntries how many records in the trail could no longer be restored whole
     * @param notes what else is to be known
     */
    record Found(
            long records,
            long filled,
            List<Dependent> dependents,
            List<String> use,
            List<String> unknown,
            OptionalLong restorableEntries,
            List<String> notes) {}

    @Override
    public long records() {
        return found.records();
    }

    @Override
    public long filled() {
        return found.filled();
    }

    @Override
    public List<Dependent> dependents() {
        return found.dependents();
    }

    @Override
    public List<String> use() {
        return found.use();
    }

    @Override
    public List<String> unknown() {
        return found.unknown();
    }

    @Override
    public OptionalLong restorableEntries() {
        return found.restorableEntries();
    }

    @Override
    public List<String> notes() {
        return found.notes();
    }

    @Override
    public String name() {
        return column.map(part -> table + "." + part).orElse(table);
    }

    @Override
    public String nameAside() {
        return retiree.aside();
    }

    @Override
    public String subject() {
        return table;
    }

    @Override
    public Map<String, Long> counts() {
        return Map.of(table, found.filled());
    }

    @Override
    public Consent consent() {
        return demanded.and(step == RetirementStep.RETURN ? Consent.YES : Consent.LABEL);
    }

    /** {@return the name: whoever types it has read what it is about} */
    @Override
    public String label() {
        return name();
    }

    @Override
    public boolean isBlocked() {
        return found.dependents().stream().anyMatch(object -> object.fate() == Fate.IN_THE_WAY);
    }

    @Override
    public void refuseBlocked() {
        List<Dependent> blocking = found.dependents().stream()
                .filter(object -> object.fate() == Fate.IN_THE_WAY)
                .toList();
        if (!blocking.isEmpty()) {
            Dependent first = blocking.get(0);
            String more = blocking.size() == 1 ? "" : ", and " + (blocking.size() - 1) + " more,";
            throw new InvalidRequestException(
                    FailureCode.BLOCKED,
                    "The " + first.kind() + " " + first.name() + more + " is in the way of what is to be done with "
                            + name() + ".",
                    first.remedy().orElse("Let it go along by its name, or take it away first."));
        }
    }

    @Override
    public String question(Wording words) {
        return switch (step) {
            case SET_ASIDE -> words.text("retire.set-aside", name(), found.filled(), nameAside());
            case DROP ->
                words.text("retire.drop", name(), found.filled(), files.get(1).getFileName());
            case RETURN -> words.text("retire.return", name(), found.filled());
        };
    }

    @Override
    public PlannedRetirement proposal() {
        return this;
    }

    @Override
    public String toString() {
        return step + " " + name();
    }
}
