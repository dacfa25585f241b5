<?php

declare(strict_types=1);

namespace Ypomna\Tests\System;

use PHPUnit\Framework\TestCase;
use Ypomna\Standin\Web\Authority;
use Ypomna\Tests\Support\Folder;
use Ypomna\Tests\Support\NameServer;
use Ypomna\Tests\Support\Stack;

/** An installation for people on other machines: what the start command takes, and what it says is missing. */
final class BeyondTest extends TestCase
{
    private Folder $folder;
    private NameServer $names;
    private Stack $stack;
    private int $port;

    protected function setUp(): void
    {
        $this->folder = new Folder();
        chmod($this->folder->path, 0o755);
        $this->names = new NameServer($this->folder);
        $this->stack = new Stack(getenv('YPOMNA_TEST_TMP').'/beyond-'.bin2hex(random_bytes(3)));
        $this->port = $this->stack->port + 4;
    }

    protected function tearDown(): void
    {
        $this->stack->stop();
        $this->names->end();
    }

    public function testItRunsUnderANameOfItsOwnAndSaysWhatIsMissing(): void
    {
        $narrow = $this->certificate('narrow', ['ypomna.test', 'pages.ypomna.test']);
        $this->names->say(['ypomna.test' => '127.0.0.1']);
        $said = $this->start($narrow);
        self::assertStringContainsString('Ypomna runs at https://ypomna.test:'.$this->port.'/', $said);
        self::assertStringContainsString(' https://ypomna.test:'.$this->port.'/sign-in/link/', $said);
        self::assertStringContainsString('Names below pages.ypomna.test lead nowhere (there is no such name)', $said);
        self::assertStringNotContainsString('The name ypomna.test', $said);

        $this->names->say(['ypomna.test' => '127.0.0.1', '*.pages.ypomna.test' => '127.0.0.1']);
        self::assertSame(
            'The certificate for archived pages has no wildcard *.pages.ypomna.test; it stands for ypomna.test, pages.ypomna.test.',
            $this->check('narrow'),
        );
        self::assertStringContainsString('does not trust the certificate that is shown for ypomna.test', $this->check(null));

        $good = $this->certificate('good', ['ypomna.test', '*.pages.ypomna.test']);
        $said = $this->start($good);
        self::assertStringNotContainsString('certificate', $said);
        self::assertStringNotContainsString('public:check', $said);
        self::assertSame('', $this->check('good'));

        // Names that lead elsewhere.
        $this->names->say(['ypomna.test' => '127.0.0.1', '*.pages.ypomna.test' => '127.0.0.2']);
        self::assertSame('Nothing answers for pages.ypomna.test at 127.0.0.2:'.$this->port.'.', $this->check('good'));
        $this->names->say(['*.pages.ypomna.test' => '127.0.0.1']);
        self::assertSame('The name ypomna.test leads nowhere (there is no such name).', $this->check('good'));

        // What is said over TLS, and to whom. Somebody has to be there for a form to sign in by.
        $this->stack->cookie();
        [$fields] = $this->asked('ypomna.test', '/sign-in', 'good');
        self::assertMatchesRegularExpression('~^HTTP/1\.1 200 ~', $fields);
        self::assertMatchesRegularExpression('~^Set-Cookie: ypomna=[^;]+; path=/; secure; httponly; samesite=lax\r$~mi', $fields);
        self::assertMatchesRegularExpression('~^Strict-Transport-Security: max-age=31536000\r$~mi', $fields);
        [$fields] = $this->asked('ypomna.test', '/build/app.css', 'good');
        self::assertMatchesRegularExpression('~^Strict-Transport-Security: max-age=31536000\r$~mi', $fields);
        self::assertSame('', $this->asked('evil.test', '/', 'good')[0], 'No other name is even greeted.');
        self::assertMatchesRegularExpression('~^HTTP/1\.1 421 ~', $this->asked('ypomna.test', '/', 'good', 'evil.test')[0]);
        self::assertMatchesRegularExpression('~^HTTP/1\.1 421 ~', $this->asked('ypomna.test', '/', 'good', 'localhost:1')[0]);
        $page = str_repeat('a', 26).'at-lantern-test.pages.ypomna.test';
        [$fields, $body] = $this->asked($page, '/', 'good');
        self::assertMatchesRegularExpression('~^HTTP/1\.1 404 ~', $fields);
        self::assertStringContainsString('There is no such capture.', $body);
        self::assertStringNotContainsString('Set-Cookie', $fields);
        self::assertStringContainsString('default-src https://*.pages.ypomna.test:'.$this->port.' ', $fields);

        // Renewed in its place, it is the one that is shown from the next start on.
        $other = $this->certificate('renewed', ['ypomna.test', '*.pages.ypomna.test']);
        copy($other, $good);
        $this->start($good);
        self::assertStringContainsString('does not trust', $this->check('good'));
        self::assertSame('The name ypomna.test leads nowhere (there is no such name).', $this->check('renewed'));

        // A proxy in front that is named says who asks and how; the application says so of itself where it does not.
        $proxied = [
            'TLS_CERTIFICATE' => '', 'TLS_KEY' => '', 'TRUSTED_PROXIES' => 'localhost', 'PUBLIC_URL' => 'https://ypomna.test',
        ];
        $settings = $this->stack->data.'/ypomna.env';
        file_put_contents($settings, preg_replace('/^TLS_.*\n/m', '', (string) file_get_contents($settings)));
        $said = $this->start('', $proxied);
        self::assertStringNotContainsString('TRUSTED_PROXIES', $said);
        $ask = fn (string $more): string => $this->plain("GET /sign-in HTTP/1.1\r\nHost: ypomna.test\r\n{$more}Connection: close\r\n\r\n");
        self::assertMatchesRegularExpression('~^Set-Cookie: .*; secure;~mi', $ask("X-Forwarded-Proto: https\r\n"));
        self::assertDoesNotMatchRegularExpression('~^Set-Cookie: .*; secure;~mi', $ask(''));
    }

    public function testWhatCannotWorkIsRefusedBeforeAnythingIsServed(): void
    {
        $good = $this->certificate('good', ['ypomna.test', '*.pages.ypomna.test']);
        $other = $this->certificate('other', ['ypomna.test']);
        $cases = [
            [['PUBLIC_URL' => 'https://ypomna.test/archive'], 'it may have no path'],
            [['PUBLIC_URL' => 'ypomna.test'], 'it has to be a scheme and a name'],
            [['PAGES_DOMAIN' => 'pages_.test'], 'PAGES_DOMAIN is “pages_.test”'],
            [['TLS_KEY' => $other], 'The key in '.$other.' is not that of the certificate in '.$good],
            [['TLS_KEY' => '/nowhere/key.pem'], 'The file /nowhere/key.pem cannot be read by the user'],
            [['TLS_CERTIFICATE' => __FILE__, 'TLS_KEY' => __FILE__], 'cannot be used: it holds no certificate'],
            [['TLS_CERTIFICATE' => '/a"b'], 'has a sign in it that no path here may have'],
            [['LISTEN' => 'everywhere'], 'LISTEN has “everywhere”'],
            [['LISTEN' => '192.0.2.200'], 'Nothing can listen at 192.0.2.200'],
            [['TRUSTED_PROXIES' => 'REMOTE_ADDR'], 'whoever asks would be believed'],
            [['TRUSTED_PROXIES' => '10.0.0.0/33'], 'is no address and no network'],
            [['TRUSTED_PROXIES' => 'proxy.nowhere.invalid'], 'that name leads nowhere'],
            [['PUBLIC_URL' => 'https://ypomna.test:'.($this->stack->port + 1)], 'which this installation uses on this machine'],
        ];
        foreach ($cases as [$given, $expected]) {
            [$status, $said] = $this->stack->start(['--empty'], $given + $this->settings($good));
            self::assertSame(1, $status, $said);
            self::assertStringContainsString($expected, $said);
            self::assertFileDoesNotExist($this->stack->data.'/run/nginx.pid');
        }
    }

    /** @param array<string, string> $more */
    private function start(string $certificate, array $more = []): string
    {
        [$status, $said] = $this->stack->start(['--empty'], $more + $this->settings($certificate));
        self::assertSame(0, $status, $said);

        return $said;
    }

    /** @return array<string, string> */
    private function settings(string $certificate): array
    {
        return [
            'PUBLIC_URL' => 'https://ypomna.test:'.$this->port, 'LISTEN' => '127.0.0.1', 'TLS_CERTIFICATE' => $certificate,
            'TLS_KEY' => $certificate, 'READERS_RESOLVER' => $this->names->dsn,
            'SSL_CERT_FILE' => \dirname($certificate).'/authority.pem',
        ];
    }

    /** @param non-empty-list<string> $hosts */
    private function certificate(string $name, array $hosts): string
    {
        $path = (new Authority($this->folder->path.'/'.$name))->issue($hosts);
        chmod($path, 0o644);

        return $path;
    }

    private function check(?string $authority): string
    {
        [$status, $said] = $this->stack->ypomnaIn(
            null === $authority ? [] : ['SSL_CERT_FILE' => $this->folder->path.'/'.$authority.'/authority.pem'], 'public:check',
        );
        self::assertSame('' === trim($said) ? 0 : 1, $status);

        return trim($said);
    }

    /** @return array{string, string} fields and body; empty if there was no handshake */
    private function asked(string $name, string $path, string $authority, ?string $host = null): array
    {
        $context = stream_context_create(['ssl' => [
            'peer_name' => $name, 'cafile' => $this->folder->path.'/'.$authority.'/authority.pem',
            'verify_peer_name' => 'evil.test' !== $name,
        ]]);
        $socket = @stream_socket_client('tls://127.0.0.1:'.$this->port, $code, $error, 10, \STREAM_CLIENT_CONNECT, $context);
        if (false === $socket) {
            return ['', ''];
        }
        fwrite($socket, "GET {$path} HTTP/1.1\r\nHost: ".($host ?? $name.':'.$this->port)."\r\nConnection: close\r\n\r\n");
        [$fields, $body] = explode("\r\n\r\n", (string) stream_get_contents($socket), 2) + [1 => ''];

        return [$fields."\r\n", $body];
    }

    private function plain(string $request): string
    {
        $socket = fsockopen('127.0.0.1', $this->stack->port);
        self::assertNotFalse($socket);
        fwrite($socket, $request);

        return explode("\r\n\r\n", (string) stream_get_contents($socket), 2)[0];
    }
}
