<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Ypomna\Tests\Support\WarcBuilder;

final class CompareTest extends AppTestCase
{
    private const PAGE = 'http://lantern.test/a';

    public function testTheEarlierOneIsTheOldOneWhicheverIsNamedFirst(): void
    {
        [$old, $new] = $this->two('<title>Notice</title><p>The crew measured 40 centimetres of water. Nobody was hurt.<p><a href="/log">log</a>', '<title>Notice</title><p>The crew measured 14 centimetres of water. Nobody was hurt.<p><a href="/minutes">log</a>');
        $body = $this->get("/compare/{$new}/{$old}");
        self::assertStringContainsString('<del>40</del>', $body);
        self::assertStringContainsString('<ins>14</ins>', $body);
        self::assertStringContainsString('leads elsewhere', $body);
        self::assertStringContainsString('1 passage differs; 1 link', $body);
    }

    public function testAPictureWithOtherBytesAtTheSameAddressIsNoticed(): void
    {
        foreach (['2024-01-01' => 'one', '2024-02-01' => 'two'] as $day => $bytes) {
            $this->takeIn((new WarcBuilder($day))->exchange(self::PAGE, $day.'T00:00:00Z', '<p>same<img src="/x.png" alt="ship">')->exchange('http://lantern.test/x.png', $day.'T00:00:01Z', $bytes, 'image/png'), $day.'.warc.gz');
        }
        $body = $this->get('/compare/'.$this->captureOf(self::PAGE, '2024-01-01')->code.'/'.$this->captureOf(self::PAGE, '2024-02-01')->code);
        self::assertStringContainsString('the same address, other bytes', $body);
    }

    public function testTheSamePageTwiceHasNoDifference(): void
    {
        [$old, $new] = $this->two('<p>same', '<p>same');
        self::assertStringContainsString('A reader would see no difference', $this->get("/compare/{$old}/{$new}"));
    }

    public function testWhatBothPagesSayStaysText(): void
    {
        [$old, $new] = $this->two('<p>&lt;script&gt;alert(1)&lt;/script&gt; was here', '<p>&lt;script&gt;alert(2)&lt;/script&gt; was here');
        self::assertStringNotContainsString('<script>alert', $this->get("/compare/{$old}/{$new}"));
    }

    public function testLongStretchesThatStayedAreFolded(): void
    {
        $same = implode('', array_map(static fn (int $n): string => "<p>Passage number {$n} stays as it is.</p>", range(1, 30)));
        [$old, $new] = $this->two($same.'<p>The end is near.', $same.'<p>The end is here.');
        $body = $this->get("/compare/{$old}/{$new}");
        self::assertStringContainsString('28 passages that stayed the same', $body);
        self::assertStringContainsString('Passage number 3 stays', $body);
    }

    public function testAFileThatIsGoneIsNamedAsTheReason(): void
    {
        [$old, $new] = $this->two('<p>one', '<p>two');
        unlink(\Ypomna\App\Settings::dataFolder().'/store/'.$this->captureOf(self::PAGE, '2024-01-01')->warcFile->path);
        self::assertStringContainsString('cannot be read from its file', $this->get("/compare/{$old}/{$new}"));
        self::assertSame(409, $this->answered());
    }

    public function testItTakesExactlyTwo(): void
    {
        [$old] = $this->two('<p>one', '<p>two');
        $this->get('/compare?c[]='.$old);
        self::assertSame(422, $this->answered());
        $this->get('/compare?c[]='.$old.'&c[]=%27%22&c[][x]=1');
        self::assertSame(422, $this->answered());
    }

    /**
     * @return array{string, string} codes
     */
    private function two(string $old, string $new): array
    {
        foreach (['2024-01-01' => $old, '2024-02-01' => $new] as $day => $html) {
            $this->takeIn((new WarcBuilder($day))->exchange(self::PAGE, $day.'T00:00:00Z', $html), $day.'.warc.gz');
        }

        return [$this->captureOf(self::PAGE, '2024-01-01')->code, $this->captureOf(self::PAGE, '2024-02-01')->code];
    }
}
