/** Does all of it hold where a database is more than one server? */
package dev.vacancy.clusters;
