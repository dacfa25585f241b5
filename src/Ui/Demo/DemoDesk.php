<?php

declare(strict_types=1);

namespace Ypomna\App\Ui\Demo;

use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\CaptureLimits;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Desk\DossierRepository;
use Ypomna\App\Desk\Dossiers;
use Ypomna\App\Desk\Favourites;
use Ypomna\App\Desk\Value\DossierChange;
use Ypomna\App\Desk\Value\FavouriteKind;
use Ypomna\App\Desk\Value\Opening;
use Ypomna\App\Desk\Value\Part;
use Ypomna\App\Shared\CurrentPerson;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;

/** The dossiers of the demo's inquiry; one of them is of people who spoke, and what it holds is confidential. */
final readonly class DemoDesk
{
    private const INQUIRY = 'Stern door';
    private const READER = 'Nerys Quill';
    /** What lies in which dossier: every capture of an address. */
    private const HELD = [
        'Timeline of statements' => [
            'http://www.saltmarch-ferries.test/safety/stern-door', 'http://www.saltmarch-ferries.test/press/petrel-dawn-update',
        ],
        'Seal and maker' => ['http://www.corvane-marine.test/products/stern-seal-400', 'http://lantern.test/2025/01/the-seal'],
        'Inspections' => ['http://www.saltmarch-ferries.test/fleet'],
    ];
    private const PEOPLE = 'People';
    private const WITNESS = 'http://forum.tidewatch.test/t/118';
    private const MOST = 20;
    private const WAITING = 10;

    public function __construct(
        private Dossiers $dossiers,
        private DossierRepository $found,
        private AddressRepository $addresses,
        private CaptureRepository $captures,
        private CaptureLimits $limits,
        private Favourites $favourites,
        private DemoItems $items,
        private CurrentPerson $person,
    ) {
    }

    public function begin(): void
    {
        if ([] !== $this->found->all(Viewer::system(), 0, 1)) {
            return;
        }
        $actor = $this->person->actor();
        $inquiry = $this->dossiers->make($actor, new DossierChange(
            self::INQUIRY, 'What was known of the stern door, by whom, and when.', people: [self::READER => Part::Reader],
            fields: DemoItems::fields(),
        ));
        $made = [];
        foreach (self::HELD as $name => $urls) {
            $made[$name] = $dossier = $this->dossiers->make($actor, new DossierChange($name, parent: $inquiry->code));
            foreach ($urls as $url) {
                foreach ($this->codes($url) as $code) {
                    $this->dossiers->lay($actor, $dossier, $code);
                }
            }
        }
        $people = $this->dossiers->make($actor, new DossierChange(
            self::PEOPLE, 'Two of the crew who spoke. Nobody else is to know.', $inquiry->code, Opening::Private,
        ));
        foreach ($this->codes(self::WITNESS) as $code) {
            $this->dossiers->lay($actor, $people, $code);
            $capture = $this->captures->byCode(Viewer::system(), $code);
            if (null !== $capture) {
                $this->limits->say($actor, $capture, true);
            }
        }
        $this->mark($inquiry->code);
        $this->items->begin($made + [self::PEOPLE => $people], $this->unsorted());
    }

    /** @return list<string> codes of captures that lie in no dossier: the newest of the addresses that were captured last */
    private function unsorted(): array
    {
        $codes = [];
        $sorted = [...array_merge(...array_values(self::HELD)), self::WITNESS];
        foreach ($this->addresses->recent(Viewer::system(), self::MOST) as $address) {
            $found = \in_array(preg_replace('~^https?://(www\.)?~', '', $address->url), array_map(
                static fn (string $url): ?string => preg_replace('~^https?://(www\.)?~', '', $url), $sorted,
            ), true) ? [] : $this->codes($address->url);
            array_push($codes, ...\array_slice($found, 0, 1));
        }

        return array_reverse(\array_slice($codes, 0, self::WAITING));
    }

    /** What the investigator goes back to every day. */
    private function mark(string $inquiry): void
    {
        $investigator = Viewer::person($this->person->actor()->name, Role::Keeper);
        $notice = $this->addresses->of($investigator, self::HELD['Timeline of statements'][0]);
        $seal = $this->codes(self::HELD['Seal and maker'][0]);
        if (null !== $notice && [] !== $seal) {
            $this->favourites->add($investigator, FavouriteKind::Address, $notice->code);
            $this->favourites->add($investigator, FavouriteKind::Capture, $seal[\count($seal) - 1]);
        }
        $this->favourites->add($investigator, FavouriteKind::Dossier, $inquiry, true);
    }

    /** @return list<string> of captures, the newest first */
    private function codes(string $url): array
    {
        $address = $this->addresses->of(Viewer::system(), $url);
        $captures = null === $address ? [] : $this->captures->ofAddress(Viewer::system(), $address, null, self::MOST);

        return array_map(static fn ($capture): string => $capture->code, $captures);
    }
}
