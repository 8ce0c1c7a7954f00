package dev.vacancy.site;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.commonmark.Extension;
import org.commonmark.ext.gfm.tables.TableCell;
import org.commonmark.ext.gfm.tables.TablesExtension;
import org.commonmark.ext.heading.anchor.HeadingAnchorExtension;
import org.commonmark.ext.heading.anchor.IdGenerator;
import org.commonmark.node.AbstractVisitor;
import org.commonmark.node.Block;
import org.commonmark.node.Code;
import org.commonmark.node.FencedCodeBlock;
import org.commonmark.node.Heading;
import org.commonmark.node.Node;
import org.commonmark.node.SoftLineBreak;
import org.commonmark.node.Text;
import org.commonmark.parser.Parser;

/** Reads Markdown as CommonMark with tables. */
final class Reading {
    static final List<Extension> EXTENSIONS = List.of(TablesExtension.create(), HeadingAnchorExtension.create());

    /** Only the title of a page and what it is divided into: what stands deeper is found with them. */
    private static final int DEEPEST_SECTION = 2;

    private final Path repository;
    private final Parser parser = Parser.builder().extensions(EXTENSIONS).build();

    Reading(Path repository) {
        this.repository = repository;
    }

    Document read(String path) throws IOException {
        Node body = parser.parse(Files.readString(repository.resolve(path)));
        List<Document.Section> sections = sections(body);
        return new Document(path, sections.isEmpty() ? path : sections.get(0).title(), body, sections);
    }

    private List<Document.Section> sections(Node body) {
        IdGenerator anchors = IdGenerator.builder().build();
        List<Document.Section> sections = new ArrayList<>();
        StringBuilder text = new StringBuilder();
        Heading[] open = new Heading[1];
        String[] anchor = {""};
        Runnable close = () -> {
            if (open[0] != null) {
                sections.add(new Document.Section(
                        anchor[0], text(open[0]), text.toString().strip()));
            }
            text.setLength(0);
        };
        for (Node node = body.getFirstChild(); node != null; node = node.getNext()) {
            if (node instanceof Heading heading) {
                // The same in the same order as the renderer, so that the second of two headings gets the same number.
                String own = anchors.generateId(text(heading));
                if (heading.getLevel() <= DEEPEST_SECTION) {
                    close.run();
                    open[0] = heading;
                    anchor[0] = own;
                    continue;
                }
            }
            text.append(text(node)).append(' ');
        }
        close.run();
        return List.copyOf(sections);
    }

    /** What is read of a node, without markup; the texts of different blocks don't run into each other. */
    private static String text(Node node) {
        Words words = new Words();
        node.accept(words);
        return words.text.toString().replaceAll("\\s+", " ").strip();
    }

    private static final class Words extends AbstractVisitor {
        private final StringBuilder text = new StringBuilder();

        @Override
        public void visit(Text node) {
            text.append(node.getLiteral());
        }

        @Override
        public void visit(Code node) {
            text.append(node.getLiteral());
        }

        @Override
        public void visit(FencedCodeBlock node) {
            text.append(node.getLiteral()).append(' ');
        }

        @Override
        public void visit(SoftLineBreak node) {
            text.append(' ');
        }

        @Override
        protected void visitChildren(Node parent) {
            super.visitChildren(parent);
            if (parent instanceof Block || parent instanceof TableCell) {
                text.append(' ');
            }
        }
    }
}
