<?php

declare(strict_types=1);

namespace Ypomna\Tests\Files;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\App\Mark\Console\MarkPlaceCommand;
use Ypomna\App\Replay\Console\PageTextCommand;
use Ypomna\App\Shared\CommandLine\UnreadableFile;
use Ypomna\Tests\Support\Folder;
use Ypomna\Tests\Support\Told;
use Ypomna\Tests\Support\WarcBuilder;

/** `text:page` and `mark:place` on files. */
final class MarkCommandsTest extends TestCase
{
    private const OLD = '<title>Held</title><html lang=en><h1>Notice</h1><p>The ferry left with 12 passengers. Nobody was'
        .' hurt.<ul><li>Contact</ul>';
    private const NEW = '<title>Held</title><html lang=en><h1>Notice</h1><p>The ferry left with 14 passengers. Nobody was'
        .' hurt.<ul><li>Home</ul>';

    private Folder $folder;

    protected function setUp(): void
    {
        $this->folder = new Folder();
    }

    public function testThePageAsAReaderSeesIt(): void
    {
        $told = Told::by(new PageTextCommand(), ['page' => $this->folder->file('a.html', self::OLD)]);
        self::assertSame(0, $told->status);
        self::assertSame([[
            'title' => 'Held', 'language' => 'en',
            'passages' => [
                ['kind' => 'heading', 'text' => 'Notice', 'heading' => null],
                ['kind' => 'sentence', 'text' => 'The ferry left with 12 passengers.', 'heading' => 'Notice'],
                ['kind' => 'sentence', 'text' => 'Nobody was hurt.', 'heading' => 'Notice'],
                ['kind' => 'item', 'text' => 'Contact', 'heading' => 'Notice'],
            ],
        ]], $told->rows);
    }

    public function testALinePerMarkAndTheStatus(): void
    {
        $quote = static fn (string $exact, string $prefix): array => [
            'id' => 'urn:'.$exact, 'target' => ['selector' => ['type' => 'TextQuoteSelector', 'exact' => $exact, 'prefix' => $prefix]],
        ];
        $marks = $this->folder->file('m.json', json_encode([
            $quote('12 passengers', 'left with '), $quote('Nobody was hurt.', 'passengers. '), $quote('Contact', 'hurt. '),
            ['target' => 'x'],
        ], \JSON_THROW_ON_ERROR));
        $warc = $this->folder->file('p.warc.gz', (new WarcBuilder())
            ->exchange('http://lantern.test/', '2024-01-01T00:00:00Z', self::OLD)
            ->exchange('http://lantern.test/', '2024-02-01T00:00:00Z', self::NEW)->bytes());
        $old = $warc.'#http://lantern.test/@2024-01-01T00:00:00Z';
        $told = Told::by(new MarkPlaceCommand(), ['marks' => $marks, 'page' => $warc.'#http://lantern.test/', '--from' => $old]);
        self::assertSame(1, $told->status);
        self::assertSame(
            [['reworded', '14 passengers', false], ['same', 'Nobody was hurt.', false], ['gone', null, false], [null, null, false]],
            array_map(static fn (array $row): array => [$row['place'], $row['text'], $row['moved']], $told->rows),
        );
        self::assertSame(
            ['id', 'place', 'text', 'passage', 'start', 'end', 'likeness', 'moved', 'problem'], array_keys($told->rows[0]),
        );
        self::assertStringContainsString('no selector', (string) json_encode($told->rows[3]['problem']));
        $same = $this->folder->file('one.json', json_encode($quote('Nobody was hurt.', ''), \JSON_THROW_ON_ERROR));
        $told = Told::by(new MarkPlaceCommand(), ['marks' => $same, 'page' => $warc.'#http://lantern.test/']);
        self::assertSame([0, null], [$told->status, $told->rows[0]['moved']]);
    }

    #[DataProvider('unreadable')]
    public function testWhatCannotBeReadIsNamed(string $marks, string $why): void
    {
        $this->expectException(UnreadableFile::class);
        $this->expectExceptionMessageMatches('/'.$why.'/');
        Told::by(new MarkPlaceCommand(), [
            'marks' => $this->folder->file('m.json', $marks), 'page' => $this->folder->file('a.html', self::OLD),
        ]);
    }

    /** @return iterable<string, array{string, string}> */
    public static function unreadable(): iterable
    {
        yield 'no JSON' => ['{', 'm\.json: The marks are not JSON'];
        yield 'no marks' => ['{"a": 1}', 'm\.json: There is no annotation'];
    }
}
