/** The command-line tool: reads a configuration, lets the core do the job, and shows what comes of it. */
package dev.vacancy.cli;
