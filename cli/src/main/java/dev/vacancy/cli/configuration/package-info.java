/** Which database and rules a command works on, from vacancy.yaml, options and the environment; the connection is opened while arguments are read. */
package dev.vacancy.cli.configuration;
