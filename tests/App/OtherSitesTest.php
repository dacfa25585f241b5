<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Component\Routing\RouterInterface;
use Ypomna\App\Archives\OtherArchives;
use Ypomna\App\Shared\Actor;
use Ypomna\Tests\Support\Folder;
use Ypomna\Tests\Support\Listening;
use Ypomna\Tests\Support\WarcBuilder;

/** What another site may have a reader's browser ask of this application, as the browser says who asks (Fetch Metadata). */
final class OtherSitesTest extends AppTestCase
{
    private const PAGE = 'http://lantern.test/a';

    private string $code;
    private string $address;

    protected function setUp(): void
    {
        parent::setUp();
        $this->takeIn((new WarcBuilder('a'))->exchange(
            self::PAGE, '2024-11-03T10:00:00Z', '<p>one two three',
        )->exchange(self::PAGE, '2024-11-04T10:00:00Z', '<p>one two four'));
        $this->code = $this->captureOf(self::PAGE)->code;
        $this->address = $this->captureOf(self::PAGE)->address->code;
    }

    protected function tearDown(): void
    {
        unset($_SERVER['WEB_ROUTES']);
        parent::tearDown();
    }

    /** @param array{string, string, string} $said site, mode, destination */
    #[DataProvider('embeddings')]
    public function testNothingIsAnsweredThatAnotherSiteLoads(array $said): void
    {
        $tried = 0;
        foreach (self::service(RouterInterface::class)->getRouteCollection() as $name => $route) {
            if (!\in_array('GET', $route->getMethods(), true) || true === $route->getDefault('_open_to_others')) {
                continue;
            }
            $path = strtr(
                $route->getPath(),
                [
                    '{code}' => $this->code, '{one}' => $this->code, '{other}' => $this->code, '{form}' => 'html', '{format}' => 'html',
                    '{name}' => 'a.warc', '{moment}' => '20241103100000', '{tag}' => 'x',
                ],
            );
            $path = (string) preg_replace('/\{\w+\}/', '1', $path);
            $this->ask($path, $said);
            self::assertContains($this->answered(), [403, 404], "{$name} {$path}");
            $tried += 403 === $this->answered() ? 1 : 0;
        }
        self::assertGreaterThan(50, $tried);
        $this->ask('/c/'.$this->code, $said);
        self::assertSame([403, 'no-store'], [$this->answered(), (string) preg_replace('/, private$/', '', $this->header('Cache-Control'))]);
    }

    /** @return iterable<string, array{array{string, string, string}}> */
    public static function embeddings(): iterable
    {
        yield 'a picture' => [['cross-site', 'no-cors', 'image']];
        yield 'a frame' => [['cross-site', 'navigate', 'iframe']];
        yield 'an object' => [['same-site', 'navigate', 'object']];
        yield 'a script that asks' => [['cross-site', 'cors', 'empty']];
        yield 'nothing that is said' => [['cross-site', '', '']];
    }

    public function testWhatIsMeantForOthersIsAnswered(): void
    {
        foreach (["/c/{$this->code}/raw", "/c/{$this->code}/embed", '/timemap/link/'.self::PAGE, '/health'] as $path) {
            $this->ask($path, ['cross-site', 'cors', 'empty']);
            self::assertSame(200, $this->answered(), $path);
        }
    }

    public function testALinkLeadsHereAndLeavesNoTrace(): void
    {
        $this->ask('/c/'.$this->code, ['cross-site', 'navigate', 'document']);
        self::assertSame(200, $this->answered());
        $this->ask("/compare/{$this->code}/{$this->code}", ['same-site', 'navigate', 'document']);
        self::assertSame(200, $this->answered());
        self::assertSame(0, $this->looks());
        $this->ask('/c/'.$this->code, ['same-origin', 'navigate', 'document']);
        self::assertSame(1, $this->looks());
    }

    public function testWhereAPageDoesSomethingTheReaderIsAskedFirst(): void
    {
        $other = new Listening(new Folder());
        $_SERVER['WEB_ROUTES'] = 'mirror.sound-archive.test:80:127.0.0.1:'.$other->port;
        self::service(OtherArchives::class)->add(
            new Actor('Tomas Okoye'),
            'Elsewhere', 'http://mirror.sound-archive.test/gate/', 'http://mirror.sound-archive.test/list/',
        );
        $paths = [
            '/elsewhere?q='.rawurlencode('http://lantern.test/"><b>'),
            "/address/{$this->address}/lifelines",
            "/c/{$this->code}/similar",
            '/hosts/matched?one=a.test&other=b.test',
        ];
        foreach ($paths as $path) {
            $shown = $this->ask($path, ['cross-site', 'navigate', 'document']);
            self::assertStringContainsString('Another site sent you here', $shown, $path);
            self::assertStringContainsString('href="'.htmlspecialchars($path).'"', $shown);
        }
        self::assertSame([], $other->sent());
        foreach ($paths as $path) {
            foreach (['same-origin', 'none', ''] as $site) {
                self::assertStringNotContainsString('Another site sent you here', $this->ask($path, [$site, 'navigate', 'document']));
                self::assertSame(200, $this->answered());
            }
        }
        self::assertCount(3, $other->sent());
    }

    private function looks(): int
    {
        $count = self::service(Connection::class)->fetchOne('SELECT COUNT(*) FROM last_viewed');

        return is_numeric($count) ? (int) $count : -1;
    }

    /** @param array{string, string, string} $said */
    private function ask(string $path, array $said): string
    {
        ob_start();
        $this->client->request(
            'GET',
            $path,
            server: array_diff(
                ['HTTP_SEC_FETCH_SITE' => $said[0], 'HTTP_SEC_FETCH_MODE' => $said[1], 'HTTP_SEC_FETCH_DEST' => $said[2]], [''],
            ),
        );
        ob_end_clean();

        return $this->body();
    }
}
