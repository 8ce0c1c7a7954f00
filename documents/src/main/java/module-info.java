/** Deletion of documents, with all that refers to them. {@link dev.vacancy.documents.Documents} is the entry. */
module dev.vacancy.documents {
    requires transitive dev.vacancy.core;
    requires transitive org.jspecify;
    requires transitive org.mongodb.bson;
    requires transitive org.mongodb.driver.sync.client;
    requires org.mongodb.driver.core;
    requires org.slf4j;

    exports dev.vacancy.documents;
}
