/** Which records a command is about: keys, files of keys, criteria, new parents, and a list to pick from. */
package dev.vacancy.cli.selecting;
