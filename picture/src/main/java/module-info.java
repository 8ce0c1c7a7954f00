/** Pictures of plans and catalogs. */
@SuppressWarnings("requires-automatic") // the layout's libraries publish a name, not yet a descriptor
module dev.vacancy.picture {
    requires transitive dev.vacancy.core;
    requires java.xml;
    requires org.eclipse.elk.alg.layered;
    requires org.eclipse.elk.core;
    requires org.eclipse.elk.graph;
    requires org.eclipse.emf.common;

    exports dev.vacancy.picture;
}
