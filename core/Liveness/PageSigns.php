<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Completeness\PageSeen;
use Ypomna\Core\Completeness\Saying;
use Ypomna\Core\Completeness\Trouble;
use Ypomna\Core\Completeness\Troubles;
use Ypomna\Core\Completeness\TroubleWords;
use Ypomna\Core\Http\Charset;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\MainText;
use Ypomna\Core\Split;

/** What a page that was answered shows of itself. */
final class PageSigns
{
    private const DEFAULTS = '/^\W*(?:it works!?|welcome to nginx!?|test page for the .{0,40}(?:server|http)|apache2? .{0,30}default'
        .' page|.{0,30}default (?:web ?)?(?:page|site)\b|iis windows server|web server.s default page|index of \/\s*$|(?:this )?(?:site|'
        .'website|page) (?:is )?(?:coming soon|under construction)|future home of|new website coming soon|congratulations!?'
        .' .{0,60}(?:successfully|working)|default (?:server|vhost)|(?:your|the) (?:web ?)?server (?:works|is (?:working|'
        .'running|ready|up)))|\bif you (?:see this page|are the (?:owner|administrator))[^.!?\n]{0,120}(?:server|hosting|'
        .'installed|website)|the (?:nginx|web|apache) (?:web ?)?server (?:is |software )?(?:successfully )?(?:installed|'
        .'working|running)/iu';
    /** Words of a text that is nothing but a message. */
    private const MESSAGE = 15;
    /** Words that may stand behind a gate. */
    private const BEHIND = 40;
    /** Words beside a request for consent that make it a layer over a page. */
    private const BESIDE = 60;
    private const MOSTLY = 0.5;
    /** So many whole sentences beside what is offered are a text. */
    private const TEXT = 2;
    /** Passages that are held against the main text. */
    private const FIRST = 2_000;
    /** What scripts fill, on a page that is made by them; the server does not know what. */
    private const UNFILLED = '~<(?:(?:div|main|section)\b[^<>]*\bid\s*=\s*["\']?(?:root|app|main|application|page|__\w+|[\w-]*app[\w-]*|'
        .'[\w-]*root[\w-]*)["\']?[^<>]*|[a-z]+-(?:app|root)\b[^<>]*)>\s*(?:<noscript\b[^<>]*>.{0,2000}?</noscript>\s*|'
        .'<!--.{0,2000}?-->\s*|loading\S{0,3}\s*)*</~is';
    /** Words of an article that is no beginning of one. */
    private const WHOLE = 200;

    public readonly string $html;
    public readonly Document $document;
    public readonly MainText $main;
    /** @var list<Trouble> */
    public readonly array $troubles;
    public readonly int $words;
    private readonly string $beginning;
    private readonly Barrier $barrier;
    /** Whether the main text is what stands on every page of the site. */
    private readonly bool $isFrame;

    /**
     * @param Document|null $frame what the site shows where nothing is, status and all: what stands there, too, is none of the page's own
     */
    private function __construct(
        private readonly CheckResult $result,
        string $html,
        private readonly Document $whole,
        MainText $main,
        ?Document $frame,
    ) {
        $this->html = $html;
        $this->main = $main;
        $this->document = null === $frame ? $whole : $whole->without($frame);
        $this->isFrame = null !== $frame && $this->isIn($whole);
        $seen = new PageSeen(
            $result->status ?? 0, (string) $result->asked->withoutFragment(), (string) $result->final, $this->document->title,
            $this->document->text(), $this->html, $this->pictures(),
        );
        $this->words = $seen->words();
        $this->troubles = $result->isHtml() ? Troubles::of($seen) : [];
        $this->beginning = mb_substr($this->document->title."\n".$this->document->text(), 0, 1_500);
        $this->barrier = new Barrier($this->document, $html);
    }

    public static function of(CheckResult $result): self
    {
        $html = Charset::text($result->body, $result->contentType);
        if (!$result->isHtml()) {
            return new self(
                $result,
                $html,
                Document::fromText($html),
                new MainText('', null, null, null, $html, true, 1.0, str_word_count($html)),
                null,
            );
        }
        $tree = Document::tree($result->body, $result->contentType);
        $document = Document::fromTree($tree, (string) $result->final);

        return new self($result, $html, $document, MainText::of($tree, $document), null);
    }

    /** @param Document $frame what the site shows where nothing is, status and all */
    public function without(Document $frame): self
    {
        return new self($this->result, $this->html, $this->whole, $this->main, $frame);
    }

    /** How many elements it has that are seen without being read. */
    public function pictures(): int
    {
        return (int) preg_match_all('/<(?:img|picture|video|audio|canvas|svg|iframe|frame|object|embed)\b/i', $this->html);
    }

    /** Whether scripts make it: then one answer of the server is as good as another, and tells nothing of what a reader sees. */
    public function isUnfilled(): bool
    {
        return $this->words < self::BEHIND && 1 === preg_match('/<script\b/i', $this->html)
            && 1 === preg_match(self::UNFILLED, $this->html);
    }

    public function has(Trouble $trouble): bool
    {
        return \in_array($trouble, $this->troubles, true);
    }

    /** Whether there is nothing that a reader came for: somebody else's page, a wall, or one that says that it is none. */
    public function isNothing(): bool
    {
        return $this->isParked() || $this->saysGone() || $this->asksToSignIn() || $this->has(Trouble::Challenge) || $this->isConsentWall();
    }

    /** Whether it asks to sign in or subscribe in place of its text; a whole article may end with an invitation. */
    public function asksToSignIn(): bool
    {
        if (!$this->has(Trouble::Login) || ($this->isArticle() && $this->main->words >= self::WHOLE)) {
            return false;
        }

        $behind = $this->barrier->behindGate();
        $isGate = null !== $behind && $behind < self::BEHIND;

        return $this->asksForPassword() ? $isGate || $this->barrier->isWayIn() : $isGate || null === $behind;
    }

    public function asksForPassword(): bool
    {
        return $this->barrier->asksForPassword();
    }

    /** What stands before the text on a page that the server shows to any address, however much there is around it. */
    public function barrier(): ?LiveReason
    {
        return $this->barrier->reason();
    }

    /** Whether there is an article, which may be about anything. */
    public function isArticle(): bool
    {
        return $this->main->isArticle && $this->main->words >= 120 && !$this->isFrame;
    }

    /** Whether most of the main text went with the frame. */
    private function isIn(Document $whole): bool
    {
        $left = [];
        foreach ($this->document->passages as $passage) {
            $left[$passage->key] = true;
        }
        $lost = 0;
        foreach (\array_slice($whole->passages, 0, self::FIRST) as $passage) {
            $lost += !isset($left[$passage->key]) && str_contains($this->main->text, $passage->text)
                ? NothingThere::words($passage->text)
                : 0;
        }

        return $lost >= self::MOSTLY * max(1, $this->main->words);
    }

    public function isParked(): bool
    {
        if ($this->words > 220 || $this->isArticle()) {
            return false;
        }

        // Who sells a name says so and little else, or says which; a text about names has sentences of its own.
        $host = mb_strtolower((string) $this->result->final->host);
        $isText = (new NotFoundMessage($this->document))->prose() >= self::TEXT;
        foreach (Split::by('/(?<=[.!?。！？])\s|\n/u', $this->beginning) as $sentence) {
            $namesIt = str_contains(mb_strtolower($sentence), (string) preg_replace('/^www\./', '', $host));
            if ((!$isText || $namesIt) && TroubleWords::isVacant((string) preg_replace('/[.!。！]+$/u', '', $sentence), $host)) {
                return true;
            }
        }

        return $this->words < 160
            && (1 === preg_match(self::DEFAULTS, trim($this->document->title))
                || 1 === preg_match(self::DEFAULTS, trim($this->document->text())));
    }

    /**
     * Whether the page says of itself that what was asked for is not there (any more).
     *
     * @param bool $isLost whether the text that is held does not stand in it
     */
    public function saysGone(bool $isLost = false): bool
    {
        if (!$this->result->isHtml()) {
            // Data and texts may speak of anything.
            return 'text/plain' === $this->result->type && $this->words < self::MESSAGE
                && Saying::Wholly === TroubleWords::gone($this->beginning);
        }

        return (new NotFoundMessage($this->document))->isOne($isLost, $this->isArticle());
    }

    /** What was asked for. */
    public function asked(): Url
    {
        return $this->result->asked;
    }

    /** Whether a request for consent stands in place of the text. */
    public function isConsentWall(): bool
    {
        if ($this->isArticle() || $this->words > 400) {
            return false;
        }
        $beside = $this->barrier->besideConsent();

        return null !== $beside && ($beside < self::BESIDE || Troubles::asksForConsent(mb_substr($this->main->text, 0, 300)));
    }
}
