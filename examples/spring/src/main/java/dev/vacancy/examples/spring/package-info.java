/** Skerrow Marinas: an application on Spring Boot and Hibernate that deletes with Vacancy. All names are invented. */
package dev.vacancy.examples.spring;
