/** How is vacancy.yaml read, each word with its line? */
package dev.vacancy.internal.yaml;
