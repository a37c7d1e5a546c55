import com.sun.source.tree.ClassTree;
import com.sun.source.tree.CompilationUnitTree;
import com.sun.source.tree.MethodTree;
import com.sun.source.tree.Tree;
import com.sun.source.tree.VariableTree;
import com.sun.source.util.JavacTask;
import com.sun.source.util.SourcePositions;
import com.sun.source.util.TreePathScanner;
import com.sun.source.util.Trees;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import javax.lang.model.element.Modifier;
import javax.tools.JavaCompiler;
import javax.tools.StandardJavaFileManager;
import javax.tools.ToolProvider;

/**
 * Figures of our Java, read from the compiler's tree: {@code java bin/lib/Facts.java TREE [FORMATTED]}.
 *
 * <p>A method's lines go from its declaration (annotations in it, Javadoc not) to its closing brace. Methods without a body,
 * and the constructor that only a record has, do not count. FORMATTED is the same tree as the formatter would have it.
 */
public final class Facts {
    private record Size(String where, int size) {}

    private final List<Size> methods = new ArrayList<>();
    private final List<Size> parameters = new ArrayList<>();
    private final List<Size> constructors = new ArrayList<>();
    private final List<Size> records = new ArrayList<>();
    private final List<Size> files = new ArrayList<>();
    private final Map<String, Integer> packages = new TreeMap<>();
    private final Map<String, Integer> typeNames = new TreeMap<>();
    private final List<Integer> lines = new ArrayList<>();
    private int suppressions;

    public static void main(String[] arguments) throws IOException {
        Path tree = Path.of(arguments[0]);
        Facts main = of(tree, "/src/main/java/");
        Facts tests = of(tree, "/src/test/java/");
        main.print("Java, main");
        tests.print("Java, tests");
        int all = main.lines.size() + tests.lines.size();
        row("tests' share of all Java lines", "%.0f %%".formatted(100.0 * tests.lines.size() / all));
        if (arguments.length > 1) {
            Path formatted = Path.of(arguments[1]);
            int before = codeLines(tree);
            int after = codeLines(formatted);
            row("code lines, as they stand and formatted", "%,d and %,d: growth %.1f %%".formatted(before, after, 100.0 * (after - before) / before));
        }
    }

    private static Facts of(Path tree, String part) throws IOException {
        Facts facts = new Facts();
        List<Path> sources = sources(tree).filter(file -> file.toString().contains(part)).toList();
        JavaCompiler compiler = ToolProvider.getSystemJavaCompiler();
        try (StandardJavaFileManager manager = compiler.getStandardFileManager(null, null, null)) {
            JavacTask task = (JavacTask) compiler.getTask(null, manager, _ -> {}, List.of("-proc:none"), null, manager.getJavaFileObjectsFromPaths(sources));
            SourcePositions positions = Trees.instance(task).getSourcePositions();
            for (CompilationUnitTree unit : task.parse()) {
                facts.look(tree, unit, positions);
            }
        }
        return facts;
    }

    private static Stream<Path> sources(Path tree) throws IOException {
        List<Path> found = new ArrayList<>();
        for (String module : List.of("check", "core", "dialect", "practice", "service", "cli", "bench", "acceptance")) {
            Path source = tree.resolve(module).resolve("src");
            if (Files.isDirectory(source)) {
                try (Stream<Path> all = Files.walk(source)) {
                    all.filter(file -> file.toString().endsWith(".java")).forEach(found::add);
                }
            }
        }
        Collections.sort(found);
        return found.stream();
    }

    private void look(Path tree, CompilationUnitTree unit, SourcePositions positions) throws IOException {
        Path file = Path.of(unit.getSourceFile().toUri());
        List<String> text = Files.readAllLines(file);
        text.forEach(line -> lines.add(line.length()));
        String name = tree.toAbsolutePath().relativize(file).toString();
        files.add(new Size(name, text.size()));
        packages.merge(String.valueOf(file.getParent().toString().replaceAll(".*/src/(main|test)/java/", "")), 1, Integer::sum);
        suppressions += (int) text.stream().filter(line -> line.contains("@SuppressWarnings")).count();
        new TreePathScanner<Void, Void>() {
            private Tree around = unit;

            @Override
            public Void visitClass(ClassTree type, Void nothing) {
                if (!type.getSimpleName().isEmpty()) {
                    typeNames.merge(type.getSimpleName().toString(), 1, Integer::sum);
                }
                if (type.getKind() == Tree.Kind.RECORD) {
                    long components = type.getMembers().stream().filter(VariableTree.class::isInstance).map(VariableTree.class::cast)
                            .filter(field -> !field.getModifiers().getFlags().contains(Modifier.STATIC)).count();
                    records.add(new Size(name + " " + type.getSimpleName(), (int) components));
                }
                Tree outer = around;
                around = type;
                super.visitClass(type, nothing);
                around = outer;
                return null;
            }

            @Override
            public Void visitMethod(MethodTree method, Void nothing) {
                long begins = positions.getStartPosition(unit, method);
                long ends = positions.getEndPosition(unit, method);
                if (method.getBody() == null || begins < 0 || ends < 0) {
                    return super.visitMethod(method, nothing);
                }
                String of = name + " " + (around instanceof ClassTree type ? type.getSimpleName() + "." : "") + method.getName();
                int size = (int) (unit.getLineMap().getLineNumber(ends) - unit.getLineMap().getLineNumber(begins) + 1);
                methods.add(new Size(of, size));
                (method.getName().contentEquals("<init>") ? constructors : parameters).add(new Size(of, method.getParameters().size()));
                return super.visitMethod(method, nothing);
            }
        }.scan(unit, null);
    }

    private void print(String title) {
        System.out.printf("%n%s%n", title);
        row("files, lines", "%,d, %,d".formatted(files.size(), lines.size()));
        spread("lines a file", files, 500);
        spread("lines a method", methods, 60);
        spread("parameters a method", parameters, Integer.MAX_VALUE);
        spread("parameters a constructor", constructors, Integer.MAX_VALUE);
        spread("components a record", records, Integer.MAX_VALUE);
        Size package_ = packages.entrySet().stream().map(e -> new Size(e.getKey(), e.getValue())).max(Comparator.comparingInt(Size::size)).orElseThrow();
        row("packages, files in the largest", "%d, %d (%s)".formatted(packages.size(), package_.size(), package_.where()));
        row("type names used for two types or more", String.valueOf(typeNames.values().stream().filter(n -> n > 1).count()));
        long over = lines.stream().filter(l -> l > 100).count();
        row("lines over 100 columns, over 120, longest", "%,d (%.1f %%), %,d, %d".formatted(
                over, 100.0 * over / lines.size(), lines.stream().filter(l -> l > 120).count(), Collections.max(lines)));
        row("@SuppressWarnings", String.valueOf(suppressions));
    }

    /** Median, 90th and 99th percentile, largest; and by name what is above the most that we allow. */
    private static void spread(String what, List<Size> sizes, int atMost) {
        List<Size> sorted = sizes.stream().sorted(Comparator.comparingInt(Size::size)).toList();
        Size largest = sorted.getLast();
        row(what + ": median, p90, p99, largest", "%d, %d, %d, %d (%s)".formatted(
                at(sorted, 50), at(sorted, 90), at(sorted, 99), largest.size(), largest.where()));
        sorted.reversed().stream().filter(size -> size.size() > atMost)
                .forEach(size -> System.out.printf("    over %d: %d %s%n", atMost, size.size(), size.where()));
    }

    private static int at(List<Size> sorted, int percent) {
        return sorted.get((sorted.size() - 1) * percent / 100).size();
    }

    private static void row(String what, String figures) {
        System.out.printf("  %-46s %s%n", what, figures);
    }

    /** Lines that are neither empty nor a comment nor an import. */
    private static int codeLines(Path tree) throws IOException {
        int count = 0;
        for (Path file : sources(tree).collect(Collectors.toList())) {
            count += (int) Files.readAllLines(file).stream().map(String::strip)
                    .filter(line -> !line.isEmpty() && !line.startsWith("//") && !line.startsWith("*") && !line.startsWith("/*") && !line.startsWith("import ")).count();
        }
        return count;
    }
}
