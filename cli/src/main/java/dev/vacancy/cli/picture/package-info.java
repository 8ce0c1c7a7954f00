/** How do tables, links and plans look as a picture? */
package dev.vacancy.cli.picture;
