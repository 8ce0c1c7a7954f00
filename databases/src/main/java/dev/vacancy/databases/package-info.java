/** Where does a test get an empty database from? Real ones, whose servers start when the first test asks. */
@NullMarked
package dev.vacancy.databases;

import org.jspecify.annotations.NullMarked;
