package calmstep.practice;

import java.io.IOException;
import java.math.BigInteger;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.KeyStore;
import java.security.cert.Certificate;
import java.security.cert.CertificateEncodingException;
import java.security.cert.CertificateException;
import java.security.cert.X509Certificate;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.Date;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import javax.security.auth.x500.X500Principal;
import org.bouncycastle.asn1.x509.BasicConstraints;
import org.bouncycastle.asn1.x509.Extension;
import org.bouncycastle.asn1.x509.GeneralName;
import org.bouncycastle.asn1.x509.GeneralNames;
import org.bouncycastle.cert.jcajce.JcaX509CertificateConverter;
import org.bouncycastle.cert.jcajce.JcaX509v3CertificateBuilder;
import org.bouncycastle.operator.OperatorCreationException;
import org.bouncycastle.operator.jcajce.JcaContentSignerBuilder;

/** A certificate that a stand-in signs for itself, for the address it stands at. */
final class OwnCertificate {
    private OwnCertificate() {}

    /**
     * @param pem where the certificate is written
     */
    static SSLContext contextFor(String address, Path pem)
            throws IOException, GeneralSecurityException {
        KeyPairGenerator generator = KeyPairGenerator.getInstance("EC");
        generator.initialize(256);
        KeyPair pair = generator.generateKeyPair();
        X509Certificate certificate = signed(address, pair);
        write(pem, certificate);
        KeyStore keys = KeyStore.getInstance("PKCS12");
        keys.load(null, new char[0]);
        keys.setKeyEntry("own", pair.getPrivate(), new char[0], new Certificate[] {certificate});
        KeyManagerFactory managers =
                KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
        managers.init(keys, new char[0]);
        SSLContext context = SSLContext.getInstance("TLS");
        context.init(managers.getKeyManagers(), null, null);
        return context;
    }

    private static void write(Path pem, X509Certificate certificate)
            throws CertificateEncodingException, IOException {
        Files.createDirectories(pem.toAbsolutePath().getParent());
        Files.writeString(
                pem,
                "-----BEGIN CERTIFICATE-----\n%s\n-----END CERTIFICATE-----\n"
                        .formatted(
                                Base64.getMimeEncoder(64, new byte[] {'\n'})
                                        .encodeToString(certificate.getEncoded())));
    }

    private static X509Certificate signed(String address, KeyPair pair)
            throws IOException, GeneralSecurityException {
        X500Principal name = new X500Principal("CN=practice");
        Instant now = Instant.now();
        JcaX509v3CertificateBuilder builder = builderFor(name, now, pair);
        builder.addExtension(
                Extension.subjectAlternativeName,
                false,
                new GeneralNames(new GeneralName(GeneralName.iPAddress, address)));
        builder.addExtension(Extension.basicConstraints, true, new BasicConstraints(true));
        try {
            return signedBy(builder, pair);
        } catch (OperatorCreationException unknown) {
            throw new GeneralSecurityException(unknown);
        }
    }

    private static X509Certificate signedBy(JcaX509v3CertificateBuilder builder, KeyPair pair)
            throws CertificateException, OperatorCreationException {
        return new JcaX509CertificateConverter()
                .getCertificate(
                        builder.build(
                                new JcaContentSignerBuilder("SHA256withECDSA")
                                        .build(pair.getPrivate())));
    }

    private static JcaX509v3CertificateBuilder builderFor(
            X500Principal name, Instant now, KeyPair pair) {
        JcaX509v3CertificateBuilder builder =
                new JcaX509v3CertificateBuilder(
                        name,
                        BigInteger.valueOf(now.toEpochMilli()),
                        Date.from(now.minus(Duration.ofDays(1))),
                        Date.from(now.plus(Duration.ofDays(365))),
                        name,
                        pair.getPublic());
        return builder;
    }
}
