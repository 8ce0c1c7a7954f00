/** What the marinas keep, as Hibernate maps it. */
package dev.vacancy.examples.spring.fleet;
