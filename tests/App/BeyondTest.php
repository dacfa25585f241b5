<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Component\Clock\MockClock;
use Ypomna\App\Network\Reach\FrontSettings;
use Ypomna\App\Network\Reach\ReachProof;
use Ypomna\App\Network\Reach\ShownCertificates;
use Ypomna\App\Replay\HostNames;
use Ypomna\App\Replay\PageHosts;
use Ypomna\App\Shared\PublicUrl;
use Ypomna\App\Shared\Role;
use Ypomna\Core\Tls\ServerCertificate;
use Ypomna\Standin\Web\Authority;
use Ypomna\Tests\Support\WarcBuilder;

/** An installation with a name of its own, for people on other machines. */
final class BeyondTest extends AppTestCase
{
    private const PUBLIC = 'https://ypomna.test';
    private const PAGES = 'pages.ypomna.test';
    private const PROXY = '10.1.2.3';
    private const LONG = 'https://pictures-and-other-parts.delivered-from-everywhere.by-a-name-of-length.test:8443';

    protected function setUp(): void
    {
        parent::setUp();
        $_ENV['PUBLIC_URL'] = self::PUBLIC;
        $_ENV['PAGES_DOMAIN'] = self::PAGES;
        $_ENV['TRUSTED_PROXIES'] = self::PROXY;
        $this->anew(['HTTP_HOST' => 'ypomna.test', 'HTTPS' => '1']);
    }

    protected function tearDown(): void
    {
        unset($_ENV['PUBLIC_URL'], $_ENV['PAGES_DOMAIN'], $_ENV['TRUSTED_PROXIES']);
        parent::tearDown();
    }

    public function testWholeAddressesAreThoseOfTheSettingsHoweverItWasAsked(): void
    {
        $code = $this->held('<p>x');
        foreach (['ypomna.test', 'localhost:8020', 'ypomna.test:443', 'YPOMNA.test'] as $host) {
            $this->client->request(
                'GET', '/c/'.$code, server: ['HTTP_HOST' => $host, 'HTTPS' => '', 'HTTP_X_FORWARDED_HOST' => 'evil.test'],
            );
            self::assertSame(200, $this->answered(), $host);
            self::assertStringContainsString('data-copy="'.self::PUBLIC.'/c/'.$code.'"', $this->body());
            self::assertMatchesRegularExpression(
                '~<iframe id="page"[^>]* src="https://[a-z2-7]{26}[as]h-lantern-test\.'.self::PAGES.'/a"~', $this->body(),
            );
            self::assertStringNotContainsString('evil.test', $this->body());
            self::assertStringContainsString('frame-src https://*.'.self::PAGES.';', $this->header('Content-Security-Policy'));
        }
        foreach ([
            'evil.test', 'ypomna.test.evil.test', 'ypomna.test:8443', 'a.ypomna.test', self::PAGES, 'x.localhost', '', 'ypomna.test@x',
        ] as $host) {
            $this->client->request('GET', '/c/'.$code, server: ['HTTP_HOST' => $host]);
            self::assertSame(421, $this->answered(), $host);
        }
    }

    public function testOnlyATrustedProxySaysThatItWasTls(): void
    {
        $strict = function (array $server): string {
            $this->client->request('GET', '/sign-in', server: $server);

            return $this->header('Strict-Transport-Security');
        };
        self::assertSame('max-age=31536000', $strict([]));
        self::assertSame('', $strict(['HTTPS' => '']));
        self::assertSame('', $strict(['HTTPS' => '', 'HTTP_X_FORWARDED_PROTO' => 'https']));
        self::assertSame('max-age=31536000', $strict([
            'HTTPS' => '', 'REMOTE_ADDR' => self::PROXY, 'HTTP_X_FORWARDED_PROTO' => 'https',
        ]));
    }

    public function testTheWayHereIsProvedAtBothKindsOfHosts(): void
    {
        $word = str_repeat('a7', 13);
        $proof = self::service(ReachProof::class);
        foreach (['ypomna.test', $word.'.'.self::PAGES] as $host) {
            foreach ([true, false] as $secure) {
                $this->client->request('GET', '/reached/'.$word, server: ['HTTP_HOST' => $host, 'HTTPS' => $secure ? '1' : '']);
                self::assertSame(200, $this->answered());
                self::assertSame($secure, $proof->read($word, $this->body()), $host);
                self::assertNull($proof->read(str_repeat('b', 26), $this->body()));
            }
        }
        foreach (['/reached/'.$word.'/', '/reached/short', '/reached/'.strtoupper($word)] as $path) {
            $this->client->request('GET', $path, server: ['HTTP_HOST' => $word.'.'.self::PAGES]);
            self::assertSame(404, $this->answered());
        }
        self::assertNull((new ReachProof('another'))->read($word, $proof->answer($word, true)));
    }

    public function testNamesTooLongForALabelAreLedToWhatStandsForThem(): void
    {
        $page = '<a href="'.self::LONG.'/b">b</a><img src="c.png">';
        $this->takeIn(
            (new WarcBuilder('x'))->exchange(self::LONG.'/a', '2024-11-03T10:00:00Z', $page)
                ->exchange(self::LONG.'/c.png', '2024-11-03T10:00:00Z', 'PNG', 'image/png'),
            'x.warc.gz',
        );
        $capture = $this->captureOf(self::LONG.'/a');
        $body = $this->get('/c/'.$capture->code);
        $pattern = '~<iframe id="page"[^>]* src="https://(([a-z2-7]{26})at--([a-z2-7]{26})\.'.self::PAGES.')/a"~';
        self::assertSame(1, preg_match($pattern, $body, $m), $body);
        [, $host, $label] = $m + ['', '', ''];
        self::assertSame(self::LONG.'/a', self::service(PageHosts::class)->read($host, '/a')?->spelled);
        self::assertStringContainsString('href="https://'.$host.'/b"', $this->at($host, '/a'));
        self::assertSame('PNG', $this->at($host, '/c.png', 'image'));
        $this->at($host, '/none.png', 'image');
        self::assertSame('gap, of;desc="'.rawurlencode(self::LONG).'"', $this->header('Server-Timing'));
        // What a script puts together is led on, if there is something, and to nowhere else.
        $way = $label.'at--way.'.self::PAGES;
        $path = '/'.str_replace('://', '/', self::LONG);
        $this->client->request('GET', $path.'/c.png', server: [
            'HTTP_HOST' => $way, 'HTTP_SEC_FETCH_DEST' => 'empty', 'HTTP_ORIGIN' => 'null',
        ]);
        self::assertSame([307, 'https://'.$host.'/c.png', 'null'], [
            $this->answered(), $this->header('Location'), $this->header('Access-Control-Allow-Origin'),
        ]);
        foreach (['/https/evil.test/', '/https/evil.test/a', '/javascript/x/', '/https//evil.test/', '/https/'.$host.'/a'] as $path) {
            $this->client->request('GET', $path, server: ['HTTP_HOST' => $way, 'HTTP_SEC_FETCH_DEST' => 'document']);
            self::assertSame([404, ''], [$this->answered(), $this->header('Location')], $path);
            self::assertStringStartsWith('sandbox', $this->header('Content-Security-Policy'));
        }
        self::assertStringContainsString('<title>', $this->at($way, '/https/evil.test/a'));
        // By another right the same mark stands for nothing, whoever was led there by theirs.
        $this->signIn('Nerys Quill', Role::Reader);
        $this->get('/c/'.$capture->code);
        $theirs = $this->label($capture->code);
        self::assertNotSame($label, $theirs);
        self::assertSame("There is no such capture.\n", $this->at($theirs.substr($host, 26), '/a'));
        self::assertSame('PNG', $this->at($host, '/c.png', 'image'), 'It is still open by its own.');
        // Neither a mark nor the way counts for anything without a right.
        foreach ([
            str_repeat('a', 26).substr($host, 26) => '/a', str_repeat('a', 26).substr($way, 26) => '/https/lantern.test/',
        ] as $other => $path) {
            $this->client->request('GET', $path, server: ['HTTP_HOST' => $other, 'HTTP_SEC_FETCH_DEST' => 'document']);
            self::assertSame([404, "There is no such capture.\n"], [$this->answered(), $this->body()]);
        }
    }

    /** @return iterable<string, array{array<string, string>, string}> */
    public static function settings(): iterable
    {
        yield 'well' => [[], ''];
        yield 'a proxy' => [['certificate' => '', 'key' => ''], ''];
        yield 'no scheme' => [['publicUrl' => 'ypomna.test'], 'PUBLIC_URL is “ypomna.test”'];
        yield 'no port' => [['publicUrl' => 'https://ypomna.test:0'], 'PUBLIC_URL is'];
        yield 'another scheme' => [['publicUrl' => 'ftp://ypomna.test'], 'a scheme and a name'];
        yield 'a path' => [['publicUrl' => 'https://ypomna.test/archive'], 'may have no path'];
        yield 'a password' => [['publicUrl' => 'https://a:b@ypomna.test'], 'may have no path'];
        yield 'letters' => [['publicUrl' => 'https://ypómna.test'], 'ASCII form'];
        yield 'a label that is too long' => [['publicUrl' => 'https://'.str_repeat('a', 64).'.test'], 'PUBLIC_URL is'];
        yield 'a domain that is none' => [['pagesDomain' => '*.pages.ypomna.test'], 'PAGES_DOMAIN is “*.pages.ypomna.test”'];
        yield 'a domain that is an address' => [['pagesDomain' => '10.0.0.1'], 'PAGES_DOMAIN is'];
        yield 'a domain that leaves no room' => [['pagesDomain' => str_repeat('abc.', 47).'de'], 'at most 189 characters'];
        yield 'below the pages' => [['publicUrl' => 'https://desk.pages.ypomna.test'], 'lies below PAGES_DOMAIN'];
        yield 'no key' => [['key' => ''], 'TLS_CERTIFICATE and TLS_KEY belong together'];
        yield 'no certificate' => [['certificate' => ''], 'TLS_CERTIFICATE and TLS_KEY belong together'];
        yield 'no key of the pages' => [['pagesCertificate' => '/x'], 'PAGES_CERTIFICATE and PAGES_KEY belong together'];
        yield 'a certificate for http' => [['publicUrl' => 'http://ypomna.test'], 'does not begin with https'];
    }

    /** @param array<string, string> $given */
    #[DataProvider('settings')]
    public function testSettingsThatCannotWorkAreSaid(array $given, string $said): void
    {
        $given += [
            'publicUrl' => self::PUBLIC, 'pagesDomain' => self::PAGES, 'certificate' => '/c.pem', 'key' => '/k.pem',
            'pagesCertificate' => '', 'pagesKey' => '', 'proxies' => '', 'mode' => 'empty',
        ];
        $settings = new FrontSettings(...$given);
        $faults = implode("\n", $settings->faults());
        '' === $said ? self::assertSame('', $faults) : self::assertStringContainsString($said, $faults);
    }

    public function testWhatIsUnwiseIsSaidToo(): void
    {
        $plain = new FrontSettings('http://ypomna.test', self::PAGES, '', '', '', '', '', 'demo');
        self::assertCount(2, $plain->warnings());
        self::assertCount(1, (new FrontSettings(self::PUBLIC, self::PAGES, '', '', '', '', '', 'empty'))->warnings());
        self::assertSame([], (new FrontSettings(self::PUBLIC, self::PAGES, '', '', '', '', self::PROXY, 'empty'))->warnings());
        self::assertSame([], (new FrontSettings('http://localhost:8020', 'localhost', '', '', '', '', '', 'demo'))->warnings());
    }

    public function testWhatIsWrongWithACertificateIsSaid(): void
    {
        $path = (new Authority($this->folder->path.'/authority'))->issue(['ypomna.test', '*.pages.ypomna.test']);
        $says = ServerCertificate::parse((string) file_get_contents($path));
        $at = static fn (string $moment): ShownCertificates => new ShownCertificates(new MockClock($moment, 'UTC'));
        $now = $says->from->modify('+1 hour')->format('c');
        self::assertSame([], $at($now)->faults($says, 'ypomna.test', null));
        self::assertSame([], $at($now)->faults($says, 'word.pages.ypomna.test', 'pages.ypomna.test'));
        $cases = [
            [$now, 'desk.ypomna.test', null, 'does not cover desk.ypomna.test; it stands for ypomna.test, *.pages.ypomna.test.'],
            [$now, 'x.ypomna.test', 'ypomna.test', 'has no wildcard *.ypomna.test'],
            [$says->from->modify('-1 day')->format('c'), 'ypomna.test', null, 'holds from '.$says->from->format('j M Y').' on only'],
            [$says->until->modify('-5 days')->format('c'), 'ypomna.test', null, 'ends soon, on '.$says->until->format('j M Y')],
            [$says->until->modify('+1 second')->format('c'), 'ypomna.test', null, 'ended on '.$says->until->format('j M Y')],
        ];
        foreach ($cases as [$moment, $host, $below, $said]) {
            $faults = $at($moment)->faults($says, $host, $below);
            self::assertCount(1, $faults);
            self::assertStringContainsString($said, $faults[0]);
        }
    }

    public function testWindowsArePublicAndNearOnes(): void
    {
        $names = new HostNames('localhost 127.0.0.1', new PageHosts(self::PAGES), '8020', new PublicUrl('https://ypomna.test:8443'));
        self::assertSame(['https://ypomna.test:8443', 'http://localhost:8020', 'http://127.0.0.1:8020'], $names->origins());
        self::assertTrue($names->isOwn('ypomna.test:8443'));
        self::assertFalse($names->isOwn('ypomna.test'), 'Another server may answer at the usual port.');
        self::assertTrue($names->isPage('x.pages.ypomna.test:8443'));
        self::assertFalse($names->isPage('x.pages.ypomna.test'));
    }

    private function held(string $html): string
    {
        $this->takeIn((new WarcBuilder('a'))->exchange('http://lantern.test/a', '2024-11-03T10:00:00Z', $html), 'a.warc.gz');

        return $this->captureOf('http://lantern.test/a')->code;
    }

    private function at(string $host, string $path, string $destination = 'iframe'): string
    {
        ob_start();
        $this->client->request('GET', $path, server: ['HTTP_HOST' => $host, 'HTTP_SEC_FETCH_DEST' => $destination]);
        ob_end_clean();

        return $this->body();
    }
}
