package dev.vacancy.spring.boot;

import dev.vacancy.CommitListener;
import dev.vacancy.Limits;
import dev.vacancy.TransactionSource;
import dev.vacancy.Vacancy;
import dev.vacancy.followup.FollowUpHandler;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.spring.CurrentActor;
import dev.vacancy.spring.SpringTransactions;
import dev.vacancy.spring.VacancyExceptionTranslator;
import java.util.Map;
import javax.sql.DataSource;
import org.springframework.beans.factory.ListableBeanFactory;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.boot.autoconfigure.AutoConfiguration;
import org.springframework.boot.autoconfigure.condition.ConditionalOnClass;
import org.springframework.boot.autoconfigure.condition.ConditionalOnMissingBean;
import org.springframework.boot.autoconfigure.condition.ConditionalOnSingleCandidate;
import org.springframework.boot.context.properties.EnableConfigurationProperties;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.core.io.ResourceLoader;
import org.springframework.security.core.context.SecurityContextHolder;

/**
 * Makes one {@link Vacancy} of the application's data source, after its schema: in Spring's transactions, by the rules of a file or a
 * bean, with every {@link CommitListener} that is a bean. Whatever the application makes itself is left as it is.
 *
 * @since 0.1
 */
@AutoConfiguration(
        // Where they are since Spring Boot 4, and where they were before.
        afterName = {
            "org.springframework.boot.jdbc.autoconfigure.DataSourceAutoConfiguration",
            "org.springframework.boot.autoconfigure.jdbc.DataSourceAutoConfiguration",
            "org.springframework.boot.micrometer.metrics.autoconfigure.CompositeMeterRegistryAutoConfiguration",
            "org.springframework.boot.actuate.autoconfigure.metrics.CompositeMeterRegistryAutoConfiguration"
        })
@ConditionalOnSingleCandidate(DataSource.class)
@EnableConfigurationProperties(VacancyProperties.class)
public class VacancyAutoConfiguration {
    /** Made by Spring. */
    VacancyAutoConfiguration() {}

    @Bean
    static AfterSchema vacancyAfterSchema() {
        return new AfterSchema();
    }

    @Bean
    @ConditionalOnMissingBean
    RuleBook vacancyRules(VacancyProperties properties, ResourceLoader resources) {
        return RulesResource.read(properties.rules(), resources);
    }

    /** The rules as they apply, with those of the mapping. */
    @Bean
    ApplyingRules vacancyApplyingRules(RuleBook own, ObjectProvider<MappedRules> mapped) {
        return new ApplyingRules(mapped.getIfAvailable(() -> MappedRules.NONE).rules(own));
    }

    @Bean
    @ConditionalOnMissingBean
    TransactionSource vacancyTransactions(DataSource source) {
        return SpringTransactions.of(source);
    }

    @Bean
    @ConditionalOnMissingBean
    VacancyExceptionTranslator vacancyExceptionTranslator() {
        return new VacancyExceptionTranslator();
    }

    @Bean
    @ConditionalOnMissingBean
    Vacancy vacancy(
            DataSource source,
            ApplyingRules rules,
            TransactionSource transactions,
            VacancyProperties properties,
            ObjectProvider<CommitListener> listeners,
            ObjectProvider<VacancyCustomizer> customizers) {
        new StartCheck(source, rules.book(), transactions).accept(properties);
        Vacancy vacancy = Vacancy.over(source, rules.book(), transactions)
                .withLimits(Limits.defaults()
                        .lockWait(properties.limits().lockWait())
                        .keysHeld(properties.limits().keysHeld()));
        for (CommitListener listener : listeners.orderedStream().toList()) {
            vacancy = vacancy.withListener(listener);
        }
        for (VacancyCustomizer customizer : customizers.orderedStream().toList()) {
            vacancy = customizer.customize(vacancy);
        }
        return vacancy;
    }

    /** Whoever is a bean of the name of a follow-up handles it. */
    @Bean
    static VacancyCustomizer vacancyFollowUps(ListableBeanFactory beans) {
        return vacancy -> {
            Vacancy handled = vacancy;
            for (Map.Entry<String, FollowUpHandler> bean :
                    beans.getBeansOfType(FollowUpHandler.class).entrySet()) {
                handled = handled.withFollowUp(bean.getKey(), bean.getValue());
            }
            return handled;
        };
    }

    /**
     * The rules as they apply.
     *
     * @param book the application's own, and what is derived beside them
     */
    record ApplyingRules(RuleBook book) {}

    /** Where users sign in by Spring Security, they are those who ask. */
    @Configuration(proxyBeanMethods = false)
    @ConditionalOnClass(SecurityContextHolder.class)
    static class SignedIn {
        @Bean
        @ConditionalOnMissingBean
        CurrentActor vacancyActor() {
            return CurrentActor.signedIn();
        }
    }
}
