/** What the tool talks to: streams, the person at the terminal, colours, exit statuses, and text that is safe to show there. */
package dev.vacancy.cli.terminal;
