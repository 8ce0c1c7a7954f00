/** The demo: its folder, the walk through the job, and its pages where they are on the path. */
package dev.vacancy.cli.demo;
