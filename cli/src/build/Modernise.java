import java.io.IOException;
import java.io.UncheckedIOException;
import java.lang.classfile.ClassFile;
import java.lang.classfile.ClassFileVersion;
import java.lang.classfile.ClassHierarchyResolver;
import java.lang.classfile.ClassModel;
import java.lang.classfile.CodeTransform;
import java.lang.classfile.MethodModel;
import java.lang.classfile.MethodTransform;
import java.lang.constant.ClassDesc;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.Collections;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;
import java.util.zip.ZipOutputStream;

/**
 * Rewrites a jar's Java 5 class files as Java 8 ones, stack maps added, in place: only these may stand in a class-data archive. Nothing else in the jar
 * changes. The client's own build runs it on the parser: {@code java Modernise.java FILE.jar}.
 */
public class Modernise {
    private static final int JAVA_8 = 52;

    public static void main(String[] arguments) throws IOException {
        Path jar = Path.of(arguments[0]);
        Path fresh = Path.of(jar + ".fresh");
        try (ZipFile in = new ZipFile(jar.toFile()); ZipOutputStream out = new ZipOutputStream(Files.newOutputStream(fresh))) {
            ClassFile classFile = ClassFile.of(ClassFile.StackMapsOption.GENERATE_STACK_MAPS, ClassFile.ClassHierarchyResolverOption.of(hierarchy(in)));
            for (ZipEntry entry : Collections.list(in.entries())) {
                byte[] bytes = in.getInputStream(entry).readAllBytes();
                out.putNextEntry(new ZipEntry(entry.getName()));
                out.write(entry.getName().endsWith(".class") ? modern(classFile, bytes) : bytes);
                out.closeEntry();
            }
        }
        Files.move(fresh, jar, StandardCopyOption.REPLACE_EXISTING);
    }

    /** Stack maps need to know which class stands above which: the jar's own classes first, then the JDK's. */
    private static ClassHierarchyResolver hierarchy(ZipFile jar) {
        return ClassHierarchyResolver.ofResourceParsing((ClassDesc wanted) -> {
            String name = wanted.descriptorString();
            ZipEntry entry = jar.getEntry(name.substring(1, name.length() - 1) + ".class");
            try {
                return entry == null ? null : jar.getInputStream(entry);
            } catch (IOException broken) {
                throw new UncheckedIOException(broken);
            }
        }).orElse(ClassHierarchyResolver.defaultResolver());
    }

    private static byte[] modern(ClassFile classFile, byte[] bytes) {
        ClassModel model = classFile.parse(bytes);
        if (model.majorVersion() >= JAVA_8) {
            return bytes;
        }
        return classFile.build(model.thisClass().asSymbol(), rewritten -> {
            for (var element : model) {
                switch (element) {
                    case MethodModel method -> rewritten.transformMethod(method, MethodTransform.transformingCode(CodeTransform.ACCEPT_ALL));
                    case ClassFileVersion _ -> rewritten.withVersion(JAVA_8, 0);
                    default -> rewritten.with(element);
                }
            }
        });
    }
}
