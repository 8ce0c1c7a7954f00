/** The made-up data of Larkmoor Beekeepers' Co-operative. */
module dev.vacancy.demo {
    requires transitive java.sql;

    exports dev.vacancy.demo;
}
