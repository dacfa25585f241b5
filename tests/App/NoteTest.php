<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use Ypomna\App\Desk\Dossiers;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\ItemLinks;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Items;
use Ypomna\App\Desk\NoteText;
use Ypomna\App\Desk\Opened;
use Ypomna\App\Desk\Value\DossierChange;
use Ypomna\App\Desk\Value\ItemChange;
use Ypomna\App\Desk\Value\ItemKind;
use Ypomna\App\Desk\Value\ItemSubject;
use Ypomna\App\Desk\Value\Part;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;

/** Notes while they are written, how they read before, and who did what on the desk. */
final class NoteTest extends AppTestCase
{
    private const NOTE = "# The door\n\nIt was shut.\n\n- [ ] ask the mate\n\nEnd.";

    public function testANoteIsSavedWhileSomebodyElseWritesInIt(): void
    {
        $item = $this->note(self::NOTE);
        $this->signIn('Ilse Varga', Role::Keeper);
        $token = $this->token($item);
        $saved = $this->save($item, $token, self::NOTE, str_replace('shut', 'open', self::NOTE));
        self::assertTrue($saved['mine']);
        self::assertStringContainsString('It was open.', self::text($saved, 'html'));
        // Somebody who began with the same note ticks the to-do.
        $saved = $this->save($item, $token, self::NOTE, str_replace('[ ]', '[x]', self::NOTE));
        self::assertFalse($saved['mine']);
        self::assertSame(str_replace(['shut', '[ ]'], ['open', '[x]'], self::NOTE), $saved['note'], 'Both stand.');
        // The same line twice.
        $said = $this->save($item, $token, self::NOTE, str_replace('shut', '<b>ajar</b>', self::NOTE), 409);
        self::assertStringContainsString('It was &lt;b&gt;ajar', self::text($said, 'html'));
        self::assertStringContainsString('It was open.', self::text($said, 'html'));
        self::assertStringContainsString('It was open.', $this->item($item)->note, 'Nothing was written over.');
        $this->client->request('POST', '/items/'.$item.'/note', ['base' => '', 'note' => 'no token']);
        self::assertSame(403, $this->answered());
        $this->signIn('Nerys Quill', Role::Keeper);
        $this->client->request('POST', '/items/'.$item.'/note', ['_token' => $token, 'base' => '', 'note' => 'not hers']);
        self::assertContains($this->answered(), [403, 404]);
    }

    public function testWithoutScriptsTheFormDoesTheSame(): void
    {
        $item = $this->note(self::NOTE);
        $this->signIn('Ilse Varga', Role::Keeper);
        $this->get('/items/'.$item);
        $form = $this->client->getCrawler()->filter('form[data-note]')->form();
        // What is in a hidden box begins on a line of its own, which the browser leaves out.
        self::assertSame(self::NOTE, ltrim(self::value($form->getPhpValues(), 'base'), "\n"));
        $values = ['_token' => self::value($form->getPhpValues(), '_token'), 'act' => 'note',
            'base' => strtr(self::NOTE, ["\n" => "\r\n"])];
        $this->client->request('POST', '/items/'.$item, ['note' => strtr(self::NOTE, ['shut' => 'open', "\n" => "\r\n"])] + $values);
        self::assertSame(303, $this->answered());
        self::assertSame(str_replace('shut', 'open', self::NOTE), $this->item($item)->note);
        $this->client->request('POST', '/items/'.$item, ['note' => str_replace('shut', 'ajar', self::NOTE)] + $values);
        self::assertSame(422, $this->answered());
        $both = $this->client->getCrawler()->filter('.both-changed form')->eq(2)->form();
        $this->client->request('POST', '/items/'.$item, ['act' => 'note'] + array_map(
            static fn (mixed $one): string => ltrim(\is_string($one) ? $one : '', "\n"), $both->getPhpValues(),
        ));
        self::assertSame(303, $this->answered());
        self::assertSame(str_replace('It was shut.', "It was ajar.\nIt was open.", self::NOTE), $this->item($item)->note);
    }

    public function testEarlierVersionsAreComparedAndBroughtBack(): void
    {
        $item = $this->note(self::NOTE, 'Ilse Varga');
        $items = self::service(Items::class);
        $write = function (string $by, string $note) use ($items, $item): void {
            $items->change(new Actor($by), Viewer::system(), [$this->item($item)], new ItemChange(note: $note));
        };
        $write('Ilse Varga', self::NOTE."\n\nOne more line.");
        $write('Tomas Okoye', self::NOTE."\n\nAnother line.");
        $write('Tomas Okoye', '');
        $this->signIn('Ilse Varga', Role::Keeper);
        $this->get('/items/'.$item.'/history');
        // What one writes in one go is one version, unless most of it is taken away.
        self::assertStringContainsString('empty, Tomas Okoye', $this->said('aside li', 0));
        self::assertStringContainsString((string) mb_strlen(self::NOTE."\n\nAnother line."), $this->said('aside li', 1));
        self::assertStringContainsString('Ilse Varga', $this->said('aside li', 2));
        $path = $this->client->getCrawler()->filter('aside li a')->eq(1)->attr('href');
        $body = $this->get((string) $path);
        self::assertStringContainsString('<ins>Another</ins>', (string) preg_replace('/\s+<\/ins>/', '</ins>', $body));
        self::assertStringContainsString('Tomas Okoye wrote the note.', $body);
        $this->client->submit($this->client->getCrawler()->filter('main form')->form());
        self::assertSame(303, $this->answered());
        self::assertSame(self::NOTE."\n\nAnother line.", $this->item($item)->note);
        $this->get('/items/'.$item.'/history?version=999999');
        self::assertSame(404, $this->answered());
    }

    public function testWhatANoteLeadsToKnowsOfItAndItemsAreFoundByName(): void
    {
        $seal = $this->note('', 'Ilse Varga', 'The seal 100%_of it');
        $note = $this->note('See [the seal](/items/'.$seal.'), and [nothing](/items/222222222222).');
        $secret = $this->note('', 'Tomas Okoye', 'The seal that nobody may see');
        $this->signIn('Ilse Varga', Role::Keeper);
        self::assertStringContainsString('in its note', $this->get('/items/'.$seal));
        self::assertStringContainsString('/items/'.$note, $this->body());
        foreach (['the sea' => 1, '100%_' => 1, '%' => 1, 'x%' => 0, 'of it' => 1, 'nobody' => 0] as $typed => $count) {
            $found = json_decode($this->get('/names/items?'.http_build_query(['q' => $typed])), true);
            self::assertIsArray($found);
            self::assertCount($count, $found, $typed);
        }
        self::assertStringNotContainsString($secret, $this->get('/items/'.$seal));
        $this->item($note);
        self::service(Items::class)->change(
            new Actor('Ilse Varga'), Viewer::system(), [$this->item($note)], new ItemChange(note: 'Nothing of it.'),
        );
        self::assertStringNotContainsString('in its note', $this->get('/items/'.$seal));
    }

    public function testANoteIsShownWithoutWhatItMayNotHaveAndItsHeadingsArePlaces(): void
    {
        $html = self::service(NoteText::class)->html(
            "# Who *said* it?\n\n## Who said it\n\n<script>alert(1)</script> <img src=x onerror=alert(1)> [x](javascript:alert(1))"
                ."\n\n![p](http://elsewhere.test/p.png) ![ours](/c/222222222222/picture)\n\n# ⚓\n\n<h1 id=main onclick=x>raw</h1>",
            true,
        );
        self::assertStringContainsString('<h2 id="in-who-said-it">Who <em>said</em> it?</h2>', $html);
        self::assertStringContainsString('<h3 id="in-who-said-it-2">Who said it</h3>', $html);
        self::assertStringContainsString('<h2 id="in-">⚓</h2>', $html);
        self::assertDoesNotMatchRegularExpression('~<script|<[^>]*(onerror|onclick|javascript:|elsewhere|id="?main)~', $html);
        self::assertStringContainsString('src="/c/222222222222/picture"', $html);
        self::assertStringNotContainsString('id=', self::service(NoteText::class)->html('# A'));
        $html = self::service(NoteText::class)->html("- [ ] ask \"her\" <b>\n- [x] done \u{E0A0}0\u{E0A1}", true);
        self::assertStringContainsString('<span class="box" data-todo="1" data-text="ask &quot;her&quot; &lt;b&gt;">☐</span>', $html);
        self::assertSame(2, substr_count($html, 'data-todo'), 'What somebody wrote in the place of our signs is no to-do.');
        self::assertStringContainsString('☐ ask', self::service(NoteText::class)->html('- [ ] ask'));
    }

    public function testAQuickNoteThatIsSentTwiceComesOnce(): void
    {
        $this->signIn('Ilse Varga', Role::Keeper);
        $this->get('/references');
        $form = $this->client->getCrawler()->filter('#quick-note form')->form(['note' => 'Typed without network',
            'key' => '0123456789abcdef']);
        $this->client->submit($form);
        $this->client->submit($form);
        self::assertSame(303, $this->answered());
        self::assertSame(1, self::service(Connection::class)->fetchOne('SELECT COUNT(*) FROM item WHERE title = ?',
            ['Typed without network']));
    }

    public function testWhoDidWhatIsToldInWordsAndNamesNothingThatIsNotSeen(): void
    {
        $this->person('Nerys Quill', Role::Keeper);
        [$open, $closed] = [$this->dossier('Stern door'), $this->dossier('Sources')];
        self::service(Dossiers::class)->change(
            new Actor('Ilse Varga'), $open, new DossierChange(people: ['Nerys Quill' => Part::Reader], name: 'The stern door'),
        );
        $item = $this->item($this->note(self::NOTE));
        $items = self::service(Items::class);
        $ilse = new Actor('Ilse Varga');
        $undo = '';
        foreach ([
            new ItemChange('The <mate>', due: new \DateTimeImmutable('2026-12-24'), important: true, tags: ['to check', 'mate']),
            new ItemChange(removeTags: ['mate'], addDossiers: [$open->code, $closed->code], fields: ['ship' => 'Petrel Dawn']),
            new ItemChange(due: null, removeDossiers: [$closed->code]),
        ] as $wish) {
            [, $undo] = $items->change($ilse, Viewer::system(), [$item], $wish);
        }
        $other = $this->item($this->note('', 'Ilse Varga', 'Another'));
        $link = self::service(ItemLinks::class)->make($ilse, Viewer::system(), $item, $other->code, null, null);
        self::service(ItemLinks::class)->delete($ilse, $link);
        $items->undo($ilse, Viewer::system(), $undo);
        $this->signIn('Nerys Quill', Role::Keeper);
        $told = strip_tags($this->get('/items/'.$item->code.'/history'));
        foreach ([
            'Ilse Varga made it.', 'Ilse Varga called it “The &lt;mate&gt;”; before, “A note”.', 'Ilse Varga made it due on 2026-12-24.',
            'Ilse Varga marked it as important.', 'Ilse Varga gave it the tags: mate, to check.', 'Ilse Varga took these tags away: mate.',
            'Ilse Varga laid it into “The stern door”.', 'Ilse Varga changed fields: ship.', 'Ilse Varga took the due day away.',
            'Ilse Varga made a link from it.', 'Ilse Varga took a link away.', 'Ilse Varga undid what was done last.', 'settled it',
        ] as $sentence) {
            self::assertStringContainsString($sentence, $told);
        }
        self::assertStringNotContainsString('Sources', $told);
        $told = strip_tags($this->get('/dossiers/'.$open->code.'/history'));
        foreach ([
            'Ilse Varga made it.', 'Ilse Varga made Nerys Quill a reader of it.',
            'Ilse Varga renamed it from “Stern door” to “The stern door”.', 'Ilse Varga laid it into “The stern door”.',
        ] as $sentence) {
            self::assertStringContainsString($sentence, $told);
        }
        $this->get('/dossiers/'.$closed->code.'/history');
        self::assertSame(404, $this->answered());
    }

    public function testWhatOneHadOpenLastIsAtHand(): void
    {
        $item = $this->note('', 'Ilse Varga', 'Looked at');
        $dossier = $this->dossier('Stern door');
        $this->signIn('Ilse Varga', Role::Keeper);
        $this->get('/items/'.$item);
        $this->get('/dossiers/'.$dossier->code);
        $this->get('/items/222222222222');
        $opened = self::service(Opened::class)->of(Viewer::person('Ilse Varga', Role::Keeper), 9);
        self::assertSame([$dossier->code, $item], array_map(static fn (object $one): string => $one->code ?? '', $opened));
        self::assertStringContainsString('What you had open last', $this->get('/'));
        self::assertSame([], self::service(Opened::class)->of(Viewer::person('Tomas Okoye', Role::Keeper), 9));
    }

    private function note(string $note, string $by = 'Ilse Varga', string $title = 'A note'): string
    {
        return self::service(Items::class)->make(
            new Actor($by), Viewer::system(), ItemKind::Note, new ItemSubject(), new ItemChange($title, note: $note),
        )->code;
    }

    private function dossier(string $name): Dossier
    {
        $this->person('Ilse Varga', Role::Keeper);

        return self::service(Dossiers::class)->make(new Actor('Ilse Varga'), new DossierChange($name));
    }

    private function item(string $code): Item
    {
        $item = self::service(ItemRepository::class)->byCode(Viewer::system(), $code);
        self::assertNotNull($item);

        return $item;
    }

    private function token(string $item): string
    {
        $this->get('/items/'.$item);

        return (string) $this->client->getCrawler()->filter('form[data-note] [name=_token]')->attr('value');
    }

    /** @return array<array-key, mixed> */
    private function save(string $item, string $token, string $base, string $note, int $status = 200): array
    {
        $this->client->request('POST', '/items/'.$item.'/note', ['_token' => $token, 'base' => $base, 'note' => $note]);
        self::assertSame($status, $this->answered());
        $said = json_decode($this->body(), true);
        self::assertIsArray($said);

        return $said;
    }

    private function said(string $selector, int $n): string
    {
        return trim((string) preg_replace('/\s+/', ' ', $this->client->getCrawler()->filter($selector)->eq($n)->text()));
    }

    /** @param array<array-key, mixed> $values */
    private static function value(array $values, string $name): string
    {
        return \is_string($values[$name] ?? null) ? $values[$name] : '';
    }

    /** @param array<array-key, mixed> $said */
    private static function text(array $said, string $name): string
    {
        return \is_string($said[$name] ?? null) ? $said[$name] : '';
    }
}
