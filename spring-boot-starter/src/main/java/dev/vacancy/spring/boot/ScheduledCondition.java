package dev.vacancy.spring.boot;

import java.util.Map;
import org.springframework.boot.autoconfigure.condition.ConditionOutcome;
import org.springframework.boot.autoconfigure.condition.SpringBootCondition;
import org.springframework.boot.context.properties.bind.Bindable;
import org.springframework.boot.context.properties.bind.Binder;
import org.springframework.context.annotation.ConditionContext;
import org.springframework.core.type.AnnotatedTypeMetadata;

/** Matches if a deletion is scheduled by properties, whatever it is called. */
final class ScheduledCondition extends SpringBootCondition {
    @Override
    public ConditionOutcome getMatchOutcome(ConditionContext context, AnnotatedTypeMetadata metadata) {
        Map<String, Object> scheduled = Binder.get(context.getEnvironment())
                .bind("vacancy.scheduled", Bindable.mapOf(String.class, Object.class))
                .orElseGet(Map::of);
        return new ConditionOutcome(!scheduled.isEmpty(), "vacancy.scheduled names " + scheduled.size());
    }
}
