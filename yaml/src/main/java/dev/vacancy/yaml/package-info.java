/** How does an application take its rules from a file? */
package dev.vacancy.yaml;
