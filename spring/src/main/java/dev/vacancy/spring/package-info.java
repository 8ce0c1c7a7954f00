/** Vacancy in an application of Spring's: its transactions, its exceptions, its problem details, its users. */
@NullMarked
package dev.vacancy.spring;

import org.jspecify.annotations.NullMarked;
