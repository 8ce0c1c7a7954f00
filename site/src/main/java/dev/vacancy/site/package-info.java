/** The guide, its reference and what else is written about Vacancy, as a static site with search. */
package dev.vacancy.site;
