/** Plans, outcomes, runs, findings and the catalog as text for people and as JSON for programs. */
package dev.vacancy.cli.showing;
