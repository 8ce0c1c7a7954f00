package dev.vacancy.spring.boot;

import dev.vacancy.Vacancy;

/** Adds somebody who follows what is done. */
interface VacancyCustomizer {
    Vacancy customize(Vacancy vacancy);
}
