/** Vacancy as a bean of Spring Boot's. */
@SuppressWarnings("requires-automatic") // Spring publishes names, not descriptors
module dev.vacancy.spring.boot {
    requires transitive dev.vacancy.web;
    requires static transitive dev.vacancy.hibernate;
    requires transitive dev.vacancy.schedule;
    requires dev.vacancy.yaml;
    requires static jakarta.persistence;
    requires static jakarta.servlet;
    requires static transitive micrometer.core;
    requires static transitive micrometer.observation;
    requires org.slf4j;
    requires transitive spring.beans;
    requires transitive spring.boot;
    requires static spring.boot.actuator;
    requires static transitive spring.boot.actuator.autoconfigure;
    requires transitive spring.boot.autoconfigure;
    requires static transitive spring.boot.health;
    requires transitive spring.context;
    requires transitive spring.core;
    requires static spring.data.commons;
    requires static transitive spring.orm;
    requires static spring.security.core;
    requires static spring.web;
    requires transitive dev.vacancy.spring;

    exports dev.vacancy.spring.boot;

    // Spring makes beans by reflection.
    opens dev.vacancy.spring.boot;
}
