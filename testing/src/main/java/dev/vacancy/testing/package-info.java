/** Where does a test get an empty database from? Each of the databases, started when the first test asks. */
package dev.vacancy.testing;
