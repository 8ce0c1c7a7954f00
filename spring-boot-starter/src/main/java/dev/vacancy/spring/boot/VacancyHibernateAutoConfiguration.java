package dev.vacancy.spring.boot;

import dev.vacancy.Vacancy;
import dev.vacancy.hibernate.Deletions;
import dev.vacancy.hibernate.DerivedRule;
import dev.vacancy.hibernate.EntityMapping;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.spring.CurrentEntityManager;
import jakarta.persistence.EntityManagerFactory;
import java.util.List;
import org.springframework.beans.factory.InjectionPoint;
import org.springframework.beans.factory.config.ConfigurableBeanFactory;
import org.springframework.boot.autoconfigure.AutoConfiguration;
import org.springframework.boot.autoconfigure.condition.ConditionalOnClass;
import org.springframework.boot.autoconfigure.condition.ConditionalOnMissingBean;
import org.springframework.boot.autoconfigure.condition.ConditionalOnProperty;
import org.springframework.boot.autoconfigure.condition.ConditionalOnSingleCandidate;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Primary;
import org.springframework.context.annotation.Scope;
import org.springframework.core.ResolvableType;
import org.springframework.orm.jpa.EntityManagerHolder;

/**
 * Takes the rules that Hibernate's mapping states, and keeps its sessions and caches in step. It is left out by {@code
 * vacancy.mapping=false}.
 *
 * @since 0.1
 */
@AutoConfiguration(
        before = VacancyAutoConfiguration.class,
        // Where it is since Spring Boot 4, and where it was before.
        afterName = {
            "org.springframework.boot.hibernate.autoconfigure.HibernateJpaAutoConfiguration",
            "org.springframework.boot.autoconfigure.orm.jpa.HibernateJpaAutoConfiguration"
        })
@ConditionalOnClass({EntityMapping.class, EntityManagerHolder.class})
@ConditionalOnSingleCandidate(EntityManagerFactory.class)
@ConditionalOnProperty(name = "vacancy.mapping", matchIfMissing = true)
public class VacancyHibernateAutoConfiguration {
    /** Made by Spring. */
    VacancyHibernateAutoConfiguration() {}

    @Bean
    @ConditionalOnMissingBean
    EntityMapping vacancyMapping(EntityManagerFactory factory) {
        return EntityMapping.of(factory);
    }

    @Bean
    MappedRules vacancyMappedRules(EntityMapping mapping) {
        return new MappedRules() {
            @Override
            public RuleBook rules(RuleBook own) {
                return mapping.rules(own);
            }

            @Override
            public List<String> derived(Vacancy vacancy) {
                return mapping.derived(vacancy.catalog()).stream()
                        .map(DerivedRule::toString)
                        .toList();
            }
        };
    }

    /** Keeps sessions and caches in step. */
    @Bean
    VacancyCustomizer vacancySessions(EntityMapping mapping, EntityManagerFactory factory) {
        return vacancy -> mapping.attach(vacancy, CurrentEntityManager.of(factory));
    }

    /** Of whichever entity the place says that it is for; what repositories are made of is a bean too, and isn't meant. */
    @Bean
    @Primary
    @Scope(ConfigurableBeanFactory.SCOPE_PROTOTYPE)
    <E, ID> Deletions<E, ID> vacancyDeletions(EntityMapping mapping, Vacancy vacancy, InjectionPoint place) {
        @SuppressWarnings("unchecked") // the place is of this type
        Class<E> entity = (Class<E>) entity(place);
        return mapping.deletions(vacancy, entity);
    }

    private static Class<?> entity(InjectionPoint place) {
        ResolvableType type = place.getField() == null
                ? ResolvableType.forMethodParameter(place.getMethodParameter())
                : ResolvableType.forField(place.getField());
        while (type.resolve() != null && type.resolve() != Deletions.class && type.hasGenerics()) {
            type = type.getGeneric(0);
        }
        Class<?> entity = type.as(Deletions.class).resolveGeneric(0);
        if (entity == null) {
            throw new IllegalStateException("Of which entity " + place.getMember()
                    + " wants deletions isn't said: write Deletions<Entity, Id>.");
        }
        return entity;
    }
}
