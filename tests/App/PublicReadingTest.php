<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\Tests\Support\WarcBuilder;

/** A public reading room: anybody reads, downloads and compares, finds nothing that people wrote, and is not let further. */
final class PublicReadingTest extends AppTestCase
{
    private const PAGE = 'http://lantern.test/a';

    private Capture $old;
    private Capture $new;

    protected function setUp(): void
    {
        $_ENV['PUBLIC_READING'] = 'on';
        parent::setUp();
        self::forgetHowOften();
        $this->takeIn((new WarcBuilder('p'))
            ->exchange(self::PAGE, '2024-11-03T10:00:00Z', '<title>The seal</title><p>The door was tight. Views: 12</p>')
            ->exchange(self::PAGE, '2024-11-04T10:00:00Z', '<title>The seal</title><p>The door was leaking. Views: 19</p>'));
        $this->old = $this->captureOf(self::PAGE, '2024-11-03');
        $this->new = $this->captureOf(self::PAGE);
        $rules = '/address/'.$this->new->address->code.'/noise';
        $this->client->request('POST', $rules, [
            '_token' => $this->client->request('GET', $rules)->filter('[name=_token]')->attr('value'),
            'scope' => 'page', 'pattern' => 'Views: \d+', 'note' => 'a word of mine',
        ]);
        self::assertStringContainsString('a word of mine', $this->get('/address/'.$this->new->address->code.'/noise'));
        $this->signOut();
    }

    protected function tearDown(): void
    {
        unset($_ENV['PUBLIC_READING']);
        parent::tearDown();
    }

    public function testWhoeverHasAPermanentAddressReads(): void
    {
        [$old, $new] = [$this->old->code, $this->new->code];
        foreach ([
            "/c/{$new}", "/c/{$new}/embed", "/c/{$new}/raw", "/c/{$new}/warc", "/c/{$new}/mhtml", "/c/{$new}/parts",
            "/c/{$new}/source", "/compare/{$old}/{$new}", "/compare/{$old}/{$new}/text", "/compare/{$old}/{$new}/source",
            '/timemap/link/'.self::PAGE,
        ] as $path) {
            $said = $this->get($path);
            self::assertSame(200, $this->answered(), $path);
            foreach (['Tomas Okoye', 'a word of mine', 'Views: \d+', 'method="post"', '_token'] as $words) {
                self::assertStringNotContainsString($words, $said, $path);
            }
            self::assertNull($this->client->getResponse()->headers->get('Set-Cookie'), $path.' remembers nobody.');
        }
        self::assertStringContainsString('leaking', $this->page(self::PAGE, $new));
    }

    public function testNothingElseIsOpen(): void
    {
        $address = $this->new->address->code;
        foreach (['/', '/captures', "/address/{$address}", "/address/{$address}/noise", '/find?q=seal', '/events.atom', '/me'] as $path) {
            $said = $this->get($path);
            self::assertSame(302, $this->answered(), $path);
            self::assertStringNotContainsString('lantern', $said, $path);
        }
    }

    public function testWhoeverCopiesEverythingIsSlowedDown(): void
    {
        $statuses = [];
        for ($i = 0; $i < 303; ++$i) {
            $this->get('/c/'.$this->new->code.'/thumb');
            $statuses[] = $this->answered();
        }
        self::assertSame([404 => 300, 429 => 3], array_count_values($statuses));
        self::assertGreaterThan(0, (int) $this->header('Retry-After'));
        $this->client->request('GET', '/c/'.$this->new->code, server: ['REMOTE_ADDR' => '10.0.0.9']);
        self::assertSame(200, $this->answered());
    }
}
