<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Ypomna\App\Network\Browser\WalledBrowser;
use Ypomna\Core\Completeness\PageSeen;
use Ypomna\Core\Completeness\RequestedPart;
use Ypomna\Core\Fetch\Exchange;
use Ypomna\Core\Fetch\Rendering;

/** What a visit to a page brought, beside its exchanges. */
final class Visit
{
    /** The exchange that brought the page; null if nothing did. */
    public ?Exchange $main = null;
    public ?string $error = null;
    /** Why the browser gave up before all was read; null if it did not. */
    public ?string $broken = null;
    /** Whether the page was read though more was still to come. */
    public bool $isCutShort = false;
    public string $title = '';
    public Rendering $rendering;
    /** @var list<RequestedPart> what page, frames and styles refer to */
    public array $wanted = [];
    public ?PageSeen $seen = null;
    /** @var array<int, true> numbers of exchanges that the page did not ask for */
    public array $aside = [];
    /** @var array<string, string>|null what for the page asked for addresses; null where it is not known */
    public ?array $asked = null;
    /** @var list<string> films and sounds that have no file of their own */
    public array $streams = [];
    /** @var list<array{int, int, int, int}> where the page moves by itself: left, top, right, bottom */
    public array $moving = [];
    /** What read the page, started afresh; null where nothing can go on with it. */
    public ?WalledBrowser $window = null;
    /** Program and version that asked. */
    public string $browser = '';
    /** Text of the page as it was seen, white space folded; null if it has none. */
    public ?string $text = null;
    /**
     * @var array{page: array{int, int}, parts: array<string, array{int, int, int, int}>} width and height of the page; where it shows its
     *     parts
     */
    public array $places = ['page' => [0, 0], 'parts' => []];
    /** @var array<string, string> what the page says of itself, beside its title */
    public array $says = [];
    /** All that is written on a page that no browser showed. */
    public string $written = '';
    /** Whether the part that was wanted is on the page. */
    public bool $hasPart = true;
    /** Whether a request for consent stands where the page would. */
    public bool $nothingElse = false;
    /** @var array<string, float> what each step took, in seconds */
    public array $seconds = [];

    /**
     * Takes out of all that is said what must not be kept.
     *
     * @param \Closure(string): string $clean
     */
    public function clean(\Closure $clean): void
    {
        $this->title = $clean($this->title);
        $this->text = null === $this->text ? null : $clean($this->text);
        $this->wanted = array_map(
            static fn (RequestedPart $one): RequestedPart => new RequestedPart(
                array_map($clean, $one->any), $one->kind, $one->perhaps, $one->print,
            ),
            $this->wanted,
        );
        $asked = $parts = [];
        foreach ($this->asked ?? [] as $url => $kind) {
            $asked[$clean((string) $url)] = $kind;
        }
        foreach ($this->places['parts'] as $url => $box) {
            $parts[$clean((string) $url)] = $box;
        }
        $this->asked = null === $this->asked ? null : $asked;
        $this->places['parts'] = $parts;
        $this->says = array_map($clean, $this->says);
        $this->streams = array_map($clean, $this->streams);
        $this->rendering = $this->rendering->named($clean);
    }

    public function __construct()
    {
        $this->rendering = new Rendering();
    }
}
