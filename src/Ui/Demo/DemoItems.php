<?php

declare(strict_types=1);

namespace Ypomna\App\Ui\Demo;

use Ypomna\App\Capture\Tags;
use Ypomna\App\Capture\Value\TagKind;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Desk\Attachments;
use Ypomna\App\Desk\CaptureItems;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Glosses;
use Ypomna\App\Desk\ItemLinks;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Items;
use Ypomna\App\Desk\Value\DueFor;
use Ypomna\App\Desk\Value\FieldDefinition;
use Ypomna\App\Desk\Value\ItemChange;
use Ypomna\App\Desk\Value\ItemKind;
use Ypomna\App\Desk\Value\ItemOrder;
use Ypomna\App\Desk\Value\ItemQuery;
use Ypomna\App\Desk\Value\ItemSubject;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\CurrentPerson;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Desk\FieldType;

/** What the investigator of the demo wrote: of the statements and the seal, what is to be done, and what waits in her intake. */
final readonly class DemoItems
{
    private const TAGS = [
        'stern door' => TagKind::Theme, 'Edda Marlow' => TagKind::Person, 'Saltmarch' => TagKind::Place, 'to check' => TagKind::State,
    ];
    private const SENTENCE = 'The door was inspected on 9 November by safety manager Edda Marlow.';
    /** Of what the statements speak, one after the other. */
    private const DATES = [
        '2026-03', '2024-11-08', '2024-11-09', '2024-11-08/2024-11-16', '2024-10~', '2024-09/2024-11-08', '2024-11-08', '2024-12?',
        '2024-11-12',
    ];
    private const SCAN = __DIR__.'/../../../demo/scan/inspection-2024-10-09.png';
    private const SALTMARCH = ['name' => 'Saltmarch', 'latitude' => 54.312, 'longitude' => -20.118];

    public function __construct(
        private Items $items,
        private ItemRepository $found,
        private ItemLinks $links,
        private Glosses $glosses,
        private CaptureRepository $holdings,
        private CaptureContent $content,
        private CaptureItems $captures,
        private Tags $tags,
        private Attachments $attachments,
        private CurrentPerson $person,
    ) {
    }

    /** @return list<FieldDefinition> that the items of the inquiry have */
    public static function fields(): array
    {
        return [
            new FieldDefinition('ship', FieldType::Text), new FieldDefinition('date', FieldType::Date),
            new FieldDefinition('place', FieldType::Place), new FieldDefinition('who said it', FieldType::Person),
            new FieldDefinition('how sure', FieldType::Choice, ['certain', 'likely', 'doubtful']),
        ];
    }

    /**
     * @param array<string, Dossier> $dossiers by name
     * @param list<string> $new codes of captures that nobody has sorted yet
     */
    public function begin(array $dossiers, array $new): void
    {
        $actor = $this->person->actor();
        $this->tags->numbers(array_keys(self::TAGS));
        foreach (self::TAGS as $name => $kind) {
            $tag = $this->tags->byName($name);
            if (null !== $tag) {
                $this->tags->change($tag, $name, $kind, null);
            }
        }
        $statements = $this->statements($actor, $dossiers['Timeline of statements']);
        $this->note($actor, $dossiers['Timeline of statements'], 'Who said what, and when', <<<'TEXT'
            The notice was reworded four times. What to settle:

            - [x] Read every version against the one before
            - [ ] Ask the harbour board for the log of 9 November
            - [ ] Find out who took Edda Marlow’s name out

            | day | what changed |
            |---|---|
            | 9 November | a name |
            | 16 November | a number |
            TEXT, ['tags' => ['stern door', 'to check'], 'important' => true], $statements);
        $this->note($actor, $dossiers['Seal and maker'], 'The seal is fitted',
            'The maker’s sheet gives June 2021; the yard says early summer.', [
                'fields' => ['ship' => 'Petrel Dawn', 'date' => '2021-06~', 'place' => self::SALTMARCH, 'how sure' => 'likely'],
                'tags' => ['stern door'],
            ]);
        $this->note($actor, $dossiers['Inspections'], 'Inspection before the autumn',
            "- [ ] Get the withdrawn report from the other archive\n", [
                'fields' => ['ship' => 'Petrel Dawn', 'date' => '../2024-11-09', 'how sure' => 'doubtful'], 'tags' => ['to check'],
            ]);
        $this->scan($actor, $dossiers['Inspections']);
        $this->note($actor, $dossiers['People'], 'What two of the crew said', 'Both ask not to be named.', ['confidential' => true]);
        foreach ($new as $capture) {
            $this->captures->make($actor, $capture, new ItemChange());
        }
        $this->gloss($actor, $dossiers['Timeline of statements']);
    }

    /** A report on paper, of which nobody typed a word. */
    private function scan(Actor $actor, Dossier $dossier): void
    {
        $item = $this->items->make($actor, Viewer::system(), ItemKind::File, new ItemSubject(), new ItemChange(
            title: 'Inspection of October, scanned', summary: 'Came by post, without a sender.', dossiers: [$dossier->code], sorted: true,
            confidential: true, tags: ['stern door'],
        ));
        $copy = tempnam(sys_get_temp_dir(), 'scan');
        if (false !== $copy && copy(self::SCAN, $copy)) {
            $this->attachments->add($actor, $item, $copy, basename(self::SCAN), 'image/png');
        }
    }

    /** Beside the oldest capture that has the sentence. */
    private function gloss(Actor $actor, Dossier $dossier): void
    {
        $items = $this->found->list(Viewer::system(), new ItemQuery(dossier: $dossier->code, order: ItemOrder::Hand));
        foreach (array_reverse($items) as $item) {
            $capture = null === $item->captureCode ? null : $this->holdings->byCode(Viewer::system(), $item->captureCode);
            if (null !== $capture && str_contains($this->content->document($capture)->text(), self::SENTENCE)) {
                $this->glosses->write(
                    $actor, Viewer::system(), $capture, ['exact' => self::SENTENCE],
                    'She signed the certificate herself. **Who had it taken out**, and when?',
                );

                return;
            }
        }
    }

    private function statements(Actor $actor, Dossier $dossier): ?Item
    {
        $first = null;
        $items = $this->found->list(Viewer::system(), new ItemQuery(dossier: $dossier->code, order: ItemOrder::Hand));
        foreach ($this->found->shown(Viewer::system(), $items) as $n => $shown) {
            if (null === $shown->capture) {
                continue;
            }
            $first = $shown->item;
            $this->items->change($actor, Viewer::system(), [$shown->item], new ItemChange(
                due: 0 === $n ? new \DateTimeImmutable('2026-10-31', new \DateTimeZone('UTC')) : false,
                dueFor: 0 === $n ? DueFor::Capture : false, addTags: ['stern door', 'Saltmarch'],
                fields: [
                    'ship' => 'Petrel Dawn', 'date' => self::DATES[$n % \count(self::DATES)], 'place' => self::SALTMARCH,
                    'who said it' => 'Edda Marlow', 'how sure' => 'certain',
                ],
            ));
        }

        return $first;
    }

    /** @param array{tags?: list<string>, fields?: array<string, mixed>, important?: bool, confidential?: bool} $more */
    private function note(Actor $actor, Dossier $dossier, string $title, string $note, array $more, ?Item $about = null): void
    {
        $item = $this->items->make($actor, Viewer::system(), ItemKind::Note, new ItemSubject(), new ItemChange(
            $title, note: $note, important: $more['important'] ?? null, confidential: $more['confidential'] ?? null,
            addTags: $more['tags'] ?? [], addDossiers: [$dossier->code], fields: $more['fields'] ?? [],
        ));
        if (null !== $about) {
            $this->links->make($actor, Viewer::system(), $item, $about->code, null, 'where it begins');
        }
    }
}
