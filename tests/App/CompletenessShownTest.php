<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use PHPUnit\Framework\Attributes\TestWith;
use Ypomna\Tests\Support\WarcBuilder;

/** What a file says of whether its capture worked, in the catalogue and on the screens. */
final class CompletenessShownTest extends AppTestCase
{
    private const PAGE = 'http://lantern.test/a';

    public function testGapsAndTroublesAreShownWithWhatToDo(): void
    {
        $this->kept(
            'gaps',
            [
                'troubles' => ['consent'],
                'gaps' => [
                    ['url' => 'http://cdn.lantern.test/<b>x.png', 'kind' => 'image', 'reason' => 'timeout'],
                    ['url' => 'http://lantern.test/s', 'kind' => 'data', 'reason' => 'not-recordable'],
                ],
            ],
        );
        $capture = $this->captureOf(self::PAGE);
        self::assertSame('gaps', $capture->verdict);
        $body = $this->get('/c/'.$capture->code.'/parts');
        self::assertStringContainsString('2 parts are missing', $body);
        self::assertStringContainsString('cdn.lantern.test/&lt;b&gt;x.png', $body);
        self::assertStringContainsString('picture: no answer in time', $body);
        self::assertStringContainsString('A request for consent covers the text.', $body);
        self::assertStringContainsString('Fetch the missing parts again', $body);
        self::assertStringContainsString('incomplete', $this->get('/c/'.$capture->code));
        self::assertStringContainsString('incomplete', $this->get('/address/'.$capture->address->code));
        preg_match('#action="/c/[0-9a-z]+/complete">\s*<input type="hidden" name="_token" value="([^"]+)"#', $body, $m);
        $this->client->request('POST', '/c/'.$capture->code.'/complete', ['_token' => $m[1] ?? '']);
        self::assertSame(303, $this->answered());
        $this->client->request('POST', '/c/'.$capture->code.'/complete', []);
        self::assertSame(403, $this->answered());
    }

    public function testAWholeOneSaysSoAndNoMore(): void
    {
        $this->kept('whole', ['gaps' => [], 'troubles' => []]);
        $body = $this->get('/c/'.$this->captureOf(self::PAGE)->code.'/parts');
        self::assertStringContainsString('Everything that the page asked for is in the file', $body);
        self::assertStringNotContainsString('Try again', $body);
    }

    /** Files of others say what they like. */
    #[TestWith(['splendid', '{}'])]
    #[TestWith(['whole', '"gaps": "all"'])]
    #[TestWith(['gaps', '"gaps": [1, null, {"url": []}, {"url": "x"}], "troubles": {"a": ["b"]}'])]
    #[TestWith(['failed', '"reason": {"a": 1}, "troubles": ["<script>", 7, "no-such"]'])]
    public function testNonsenseBreaksNoScreen(string $verdict, string $rest): void
    {
        $rest = '{}' === $rest ? '' : $rest;
        $this->takeIn((new WarcBuilder())->exchange(self::PAGE, '2024-11-03T10:00:00Z', '<p>x')->said(
            self::PAGE, '2024-11-03T10:00:00Z', '{"completeness": {"verdict": "'.$verdict.'"'.('' === $rest ? '' : ', '.$rest).'}}',
        ));
        $capture = $this->captureOf(self::PAGE);
        self::assertSame('splendid' === $verdict ? null : $verdict, $capture->verdict);
        foreach (['/c/'.$capture->code, '/c/'.$capture->code.'/parts', '/address/'.$capture->address->code] as $path) {
            self::assertStringNotContainsString('<script>"', $this->get($path));
            self::assertSame(200, $this->answered(), $path);
        }
    }

    /**
     * @param array<string, mixed> $said
     */
    private function kept(string $verdict, array $said): void
    {
        $this->takeIn((new WarcBuilder())->exchange(self::PAGE, '2024-11-03T10:00:00Z', '<p>x')->said(
            self::PAGE, '2024-11-03T10:00:00Z', (string) json_encode(['completeness' => ['verdict' => $verdict] + $said]),
        ));
    }
}
