<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Page;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\KeyPhrase;
use Ypomna\Core\Page\KeyPhrases;

final class KeyPhrasesTest extends TestCase
{
    /** @return iterable<string, array{string, string, list<string>}> title, text, what is to be among the first five */
    public static function pages(): iterable
    {
        yield 'English' => [
            'Who knew about the stern door?',
            'The stern door of the Petrel Dawn was not locked. Edda Marlow signed the inspection. The door was shut when the Petrel'
                .' Dawn left,'
                .' says the company. Nobody asked Edda Marlow. The stern door has a seal. The seal of the stern door was three years old.',
            ['stern door', 'Petrel Dawn', 'Edda Marlow'],
        ];
        yield 'German' => [
            'Die Hecktür der Fähre',
            'Die Hecktür war nicht verriegelt. Der Hafenmeister hat die Prüfung nicht gesehen. Wer die Hecktür geprüft hat, sagt der'
                .' Hafenmeister nicht. Die Fähre lief aus, obwohl die Dichtung alt war. Die Dichtung wurde nicht ersetzt.',
            ['Hecktür', 'Hafenmeister', 'Dichtung'],
        ];
        yield 'Greek' => [
            'Η πρυμναία πόρτα του πλοίου',
            'Η πρυμναία πόρτα δεν ήταν κλειδωμένη. Ο λιμενάρχης δεν είδε τον έλεγχο. Η πρυμναία πόρτα έχει μια φλάντζα. Ο λιμενάρχης λέει'
                .' ότι η φλάντζα ήταν παλιά.',
            ['πρυμναία πόρτα', 'λιμενάρχης', 'φλάντζα'],
        ];
        yield 'Russian' => [
            'Кормовая дверь парома',
            'Кормовая дверь не была заперта. Начальник порта не видел проверку. Кормовая дверь имеет уплотнение. Начальник порта'
                .' говорит, что'
                .' уплотнение было старым.',
            ['Кормовая дверь', 'Начальник порта', 'уплотнение'],
        ];
        yield 'Chinese' => ['船尾门的检查', '船尾门没有锁好。港务局没有看到检查报告。船尾门的密封圈已经三年。港务局说密封圈太旧。', ['船尾', '港务局']];
        yield 'Japanese' => ['船尾扉の点検', '船尾扉は施錠されていなかった。港長は点検を見ていない。船尾扉の点検は三年前だった。港長はそう言った。', ['点検', '船尾']];
        yield 'Arabic' => [
            'باب السفينة الخلفي',
            'لم يكن باب السفينة مقفلا. قال مدير الميناء إن الفحص لم يتم. باب السفينة قديم. مدير الميناء لم ير الفحص.',
            ['باب السفينة', 'مدير الميناء'],
        ];
    }

    /** @param list<string> $expected */
    #[DataProvider('pages')]
    public function testAPageIsToldByItsOwnWords(string $title, string $text, array $expected): void
    {
        $found = self::found($title, $text, 6);
        foreach ($expected as $phrase) {
            self::assertNotSame([], array_filter($found, static fn (string $one): bool => str_contains($one, $phrase)),
                implode(' · ', $found));
        }
    }

    public function testWhatManyPagesHaveWeighsLittle(): void
    {
        $text = 'Our ferries sail daily. Tickets for our ferries are sold on board. The bowthruster failed. A new bowthruster comes.'
            .' Tickets are sold daily.';
        self::assertContains('Tickets', self::found('News', $text, 9));
        $found = self::found('News', $text, 3, static fn (array $words): array => [
            200, array_intersect_key(['our' => 190, 'ferries' => 150, 'tickets' => 160, 'daily' => 40, 'sold' => 90, 'news' => 120],
                array_flip($words)),
        ]);
        self::assertSame('bowthruster', $found[0] ?? '');
        self::assertNotContains('Tickets', $found);
    }

    public function testNothingAndMuchAreBounded(): void
    {
        self::assertSame([], self::found('', '', 5));
        self::assertSame([], self::found('12', '1 2 3 4 5 6 7 8 9 10 1 2 3', 5));
        self::assertSame([], self::found('', str_repeat('x', 1_000_000), 5));
        mt_srand(3);
        $many = implode(' ', array_map(static fn (): string => 'word'.mt_rand(), range(1, 80_000)));
        self::assertSame([], self::found('', $many, 5));
        self::assertCount(7, KeyPhrases::words(Document::fromText($many), 7));
        self::assertNotSame([], self::found("\xFF\xFEbroken", "broken \xC3 broken \xE2\x80", 5));
    }

    public function testWordsAreCountedOnce(): void
    {
        self::assertSame(
            ['stern', 'door', 'petrel', '2024'],
            KeyPhrases::words(Document::fromText('The stern door. The Stern’s door of the Petrel, 2024.'), 9),
        );
    }

    /**
     * @param (\Closure(list<string>): array{int, array<string, int>})|null $held
     *
     * @return list<string>
     */
    private static function found(string $title, string $text, int $most, ?\Closure $held = null): array
    {
        return array_map(static fn (KeyPhrase $one): string => $one->text, KeyPhrases::of(
            Document::fromHtml('<title>'.$title.'</title><p>'.$text.'</p>', 'text/html; charset=utf-8'),
            $held ?? static fn (): array => [0, []], $most,
        ));
    }
}
