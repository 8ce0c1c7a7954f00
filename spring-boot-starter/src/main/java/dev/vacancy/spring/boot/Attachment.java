package dev.vacancy.spring.boot;

import dev.vacancy.Vacancy;

/** Adds somebody who follows what is done. */
interface Attachment {
    Vacancy attach(Vacancy vacancy);
}
