package dev.vacancy.spring.boot;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.JsonForm;
import dev.vacancy.Vacancy;
import dev.vacancy.internal.engine.Engine;
import dev.vacancy.internal.rules.RulesForm;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.springframework.boot.actuate.endpoint.annotation.Endpoint;
import org.springframework.boot.actuate.endpoint.annotation.ReadOperation;

/** Tells those who operate the application by which rules it deletes, where each comes from, and which bulk runs there are. */
@Endpoint(id = "vacancy")
final class VacancyEndpoint {
    private final Vacancy vacancy;
    private final MappedRules mapped;

    VacancyEndpoint(Vacancy vacancy, MappedRules mapped) {
        this.vacancy = vacancy;
        this.mapped = mapped;
    }

    @ReadOperation
    public Map<String, Object> state() {
        Map<String, Object> state = new LinkedHashMap<>();
        state.put("rules", RulesForm.of(Engine.rulesOf(vacancy)));
        state.put("derived", mapped.derived(vacancy));
        state.put("runs", runs());
        return state;
    }

    /** The application needs no tables for bulk runs, and then there is none. */
    private List<Map<String, Object>> runs() {
        try {
            return vacancy.bulk().list().stream().map(JsonForm::of).toList();
        } catch (InvalidRequestException missing) {
            if (missing.code() == FailureCode.NO_STATE_TABLES) {
                return List.of();
            }
            throw missing;
        }
    }
}
