/** How does an application use this? The entry to all else is {@link dev.vacancy.Vacancy}. */
package dev.vacancy;
