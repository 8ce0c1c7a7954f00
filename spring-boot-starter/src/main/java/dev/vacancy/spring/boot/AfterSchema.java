package dev.vacancy.spring.boot;

import dev.vacancy.Vacancy;
import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.springframework.beans.factory.ListableBeanFactory;
import org.springframework.beans.factory.config.BeanDefinition;
import org.springframework.beans.factory.config.BeanFactoryPostProcessor;
import org.springframework.beans.factory.config.ConfigurableListableBeanFactory;
import org.springframework.util.ClassUtils;

/**
 * Has {@link Vacancy} made after whatever makes or migrates the schema, since it reads the catalog when it is made: Flyway, Liquibase, scripts of
 * Spring's, an object mapper.
 */
final class AfterSchema implements BeanFactoryPostProcessor {
    /** Each only where it is there. */
    private static final List<String> MAKERS = List.of(
            "jakarta.persistence.EntityManagerFactory",
            "org.springframework.boot.flyway.autoconfigure.FlywayMigrationInitializer",
            "org.springframework.boot.autoconfigure.flyway.FlywayMigrationInitializer",
            "liquibase.integration.spring.SpringLiquibase",
            "org.springframework.boot.sql.init.AbstractScriptDatabaseInitializer");

    @Override
    public void postProcessBeanFactory(ConfigurableListableBeanFactory factory) {
        Set<String> makers = new LinkedHashSet<>();
        MAKERS.forEach(type -> makers.addAll(beans(factory, type)));
        for (String name : factory.getBeanNamesForType(Vacancy.class, true, false)) {
            if (!factory.containsBeanDefinition(name)) {
                continue;
            }
            BeanDefinition vacancy = factory.getBeanDefinition(name);
            Stream<String> known =
                    Optional.ofNullable(vacancy.getDependsOn()).stream().flatMap(Arrays::stream);
            vacancy.setDependsOn(
                    Stream.concat(known, makers.stream()).distinct().toArray(String[]::new));
        }
    }

    private static List<String> beans(ListableBeanFactory factory, String type) {
        ClassLoader loader = AfterSchema.class.getClassLoader();
        if (!ClassUtils.isPresent(type, loader)) {
            return List.of();
        }
        Class<?> maker = ClassUtils.resolveClassName(type, loader);
        return Stream.of(factory.getBeanNamesForType(maker, true, false))
                // A factory is named with a mark in front, and depended on without it.
                .map(name -> name.startsWith("&") ? name.substring(1) : name)
                .toList();
    }
}
