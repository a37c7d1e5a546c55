package calmstep.dialect;

import java.net.Socket;
import java.security.GeneralSecurityException;
import java.security.MessageDigest;
import java.security.cert.CertificateException;
import java.security.cert.X509Certificate;
import java.util.Base64;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.SSLSocketFactory;
import javax.net.ssl.TrustManager;
import javax.net.ssl.X509ExtendedTrustManager;

/**
 * The one certificate that a device may show: the first that it ever showed. Written as SHA-256 of
 * the whole certificate, like a host key.
 */
final class PinnedCertificate extends X509ExtendedTrustManager {
    private final String expected;
    private final SSLSocketFactory sockets;
    private volatile String seen = "";

    /**
     * @param expected fingerprint that it must show; empty on the first meeting
     */
    PinnedCertificate(String expected) {
        this.expected = expected;
        try {
            SSLContext context = SSLContext.getInstance("TLS");
            context.init(null, new TrustManager[] {this}, null);
            sockets = context.getSocketFactory();
        } catch (GeneralSecurityException impossible) {
            throw new IllegalStateException(impossible);
        }
    }

    SSLSocketFactory sockets() {
        return sockets;
    }

    String expected() {
        return expected;
    }

    /** Empty before the first meeting. */
    String seen() {
        return seen;
    }

    /** Whether the device showed another one than it must. */
    boolean isAnother() {
        return !seen.isEmpty() && !expected.isEmpty() && !seen.equals(expected);
    }

    private void check(X509Certificate[] chain) throws CertificateException {
        try {
            seen =
                    "SHA256:"
                            + Base64.getEncoder()
                                    .withoutPadding()
                                    .encodeToString(
                                            MessageDigest.getInstance("SHA-256")
                                                    .digest(chain[0].getEncoded()));
        } catch (GeneralSecurityException unreadable) {
            throw new CertificateException(unreadable);
        }
        if (isAnother()) {
            throw new CertificateException("the certificate is another one than last time");
        }
    }

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String authType)
            throws CertificateException {
        check(chain);
    }

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String authType, Socket socket)
            throws CertificateException {
        check(chain);
    }

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String authType, SSLEngine engine)
            throws CertificateException {
        check(chain);
    }

    @Override
    public void checkClientTrusted(X509Certificate[] chain, String authType)
            throws CertificateException {
        throw new CertificateException("nobody signs in to us");
    }

    @Override
    public void checkClientTrusted(X509Certificate[] chain, String authType, Socket socket)
            throws CertificateException {
        throw new CertificateException("nobody signs in to us");
    }

    @Override
    public void checkClientTrusted(X509Certificate[] chain, String authType, SSLEngine engine)
            throws CertificateException {
        throw new CertificateException("nobody signs in to us");
    }

    @Override
    public X509Certificate[] getAcceptedIssuers() {
        return new X509Certificate[0];
    }
}
