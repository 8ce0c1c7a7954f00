/** Vacancy as a bean of Spring Boot's: made from rules in a file and the properties below {@code vacancy}. */
@NullMarked
package dev.vacancy.spring.boot;

import org.jspecify.annotations.NullMarked;
