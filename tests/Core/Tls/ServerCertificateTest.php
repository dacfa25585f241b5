<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Tls;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Tls\ServerCertificate;
use Ypomna\Core\Tls\UnusableCertificate;
use Ypomna\Standin\Web\Authority;
use Ypomna\Tests\Support\Folder;

final class ServerCertificateTest extends TestCase
{
    private Folder $folder;

    protected function setUp(): void
    {
        $this->folder = new Folder();
    }

    public function testAStarStandsForOneLabelAndNoMore(): void
    {
        $says = $this->issued(['Ypomna.test', '*.pages.ypomna.test', '*.test', 'b*.ypomna.test', '*']);
        self::assertSame(['ypomna.test', '*.pages.ypomna.test', '*.test', 'b*.ypomna.test', '*'], $says->names);
        foreach (['ypomna.test', 'YPOMNA.test', 'ypomna.test.', 'a.pages.ypomna.test', 'a--b.pages.ypomna.test'] as $host) {
            self::assertTrue($says->covers($host), $host);
        }
        foreach ([
            'a.ypomna.test', 'pages.ypomna.test', 'a.b.pages.ypomna.test', '.pages.ypomna.test', 'other.test', 'bee.ypomna.test', 'a', '',
            'test', '10.0.0.1', '*.ypomna.test',
        ] as $host) {
            self::assertFalse($says->covers($host), $host);
        }
        self::assertTrue($says->coversBelow('pages.ypomna.test'));
        self::assertTrue($says->coversBelow('Pages.Ypomna.test.'));
        foreach (['ypomna.test', 'b.pages.ypomna.test', 'test', ''] as $domain) {
            self::assertFalse($says->coversBelow($domain), $domain);
        }
        self::assertFalse($this->issued(['a-label-of-its-own.pages.ypomna.test'])->coversBelow('pages.ypomna.test'));
    }

    public function testTheFirstCertificateIsTheServersAndItsKeyIsTold(): void
    {
        $authority = new Authority($this->folder->path.'/authority');
        $path = $authority->issue(['ypomna.test']);
        $pem = (string) file_get_contents($path);
        $says = ServerCertificate::parse("Subject: something\n".$pem.file_get_contents($authority->certificate()));
        self::assertSame(['ypomna.test'], $says->names);
        self::assertTrue($says->isOf($pem));
        $other = (string) file_get_contents((new Authority($this->folder->path.'/other'))->issue(['ypomna.test']));
        self::assertFalse($says->isOf($other));
        self::assertFalse($says->isOf('no key'));
        $now = new \DateTimeImmutable();
        self::assertTrue($says->from <= $now && $says->until > $now->modify('+1 year'));
        $lapsed = ServerCertificate::parse((string) file_get_contents(Authority::lapsed($path)));
        self::assertTrue($lapsed->until <= new \DateTimeImmutable('+1 second'));
    }

    public function testAddressesOfMachinesAreCoveredAsSuch(): void
    {
        $key = openssl_pkey_new(['private_key_type' => \OPENSSL_KEYTYPE_EC, 'curve_name' => 'prime256v1']);
        self::assertInstanceOf(\OpenSSLAsymmetricKey::class, $key);
        $own = $key;
        $config = $this->folder->file('openssl.cnf', "[req]\ndistinguished_name=dn\n[dn]\n[host]\n"
            ."subjectAltName=IP:192.0.2.7,IP:2001:db8::7,DNS:x.test,email:DNS@x.test\n");
        $options = ['config' => $config, 'digest_alg' => 'sha256', 'x509_extensions' => 'host'];
        $request = openssl_csr_new(['commonName' => 'cn.test'], $key, $options);
        self::assertInstanceOf(\OpenSSLCertificateSigningRequest::class, $request);
        $signed = openssl_csr_sign($request, null, $own, 2, $options);
        self::assertNotFalse($signed);
        openssl_x509_export($signed, $pem);
        self::assertIsString($pem);
        $says = ServerCertificate::parse($pem);
        self::assertTrue($says->covers('192.0.2.7'));
        self::assertTrue($says->covers('[2001:DB8:0::7]'));
        self::assertFalse($says->covers('192.0.2.8'));
        // The common name counts for nothing (RFC 9525, clause 2).
        self::assertFalse($says->covers('cn.test'));
        self::assertTrue($says->covers('x.test'));
    }

    public function testWhatIsNoneIsRefusedHoweverItIsBroken(): void
    {
        $pem = (string) file_get_contents((new Authority($this->folder->path.'/authority'))->issue(['ypomna.test']));
        $begin = (int) strpos($pem, "\n") + 1;
        $refused = 0;
        foreach (['', 'x', '-----BEGIN CERTIFICATE-----', str_repeat('a', 2_000_000).$pem, substr($pem, 0, 200)] as $text) {
            try {
                ServerCertificate::parse($text);
                self::fail('It was read: '.substr($text, 0, 50));
            } catch (UnusableCertificate) {
                ++$refused;
            }
        }
        for ($n = 0; $n < 300; ++$n) {
            $changed = $pem;
            $changed[$begin + random_int(0, 1_200)] = \chr(random_int(0, 255));
            try {
                ServerCertificate::parse($changed)->covers('ypomna.test');
            } catch (UnusableCertificate) {
                ++$refused;
            }
        }
        self::assertGreaterThan(5, $refused);
    }

    /** @param non-empty-list<string> $names */
    private function issued(array $names): ServerCertificate
    {
        $authority = new Authority($this->folder->path.'/'.hash('crc32', implode(' ', $names)));

        return ServerCertificate::parse((string) file_get_contents($authority->issue($names)));
    }
}
