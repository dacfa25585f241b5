<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

use Ypomna\Core\Completeness\Saying;
use Ypomna\Core\Completeness\Troubles;
use Ypomna\Core\Completeness\TroubleWords;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\Passage;
use Ypomna\Core\Page\PassageKind;

/**
 * What may stand in place of a page's text: a request for consent, a form to sign in, a sentence about who may read on. Each of
 * them also stands beside texts, as a layer, a box, an invitation; where it stands tells.
 */
final readonly class Barrier
{
    /** Steps of a way that lead to no more than the body. */
    private const PAGE = 2;
    private const PASSWORD = '/<input\b[^<>]*\btype\s*=\s*["\']?password\b/i';
    private const AGREE = '~<(?:button|a|input)\b[^<>]*>?[^<]{0,80}(?:accept|agree|allow|consent|akzeptier|zustimm|einverstanden|'
        .'accepter|aceptar|aceitar|accetta|accepteren|akkoord|godkänn|acceptera|tillad|godta|hyväksy|akceptuj|zgadzam|souhlas|přijmout|'
        .'elfogad|αποδοχή|αποδέχομαι|συμφων|принять|соглас|прийняти|kabul|đồng ý|동의|수락|接受|同意|موافق|قبول|מסכים|אישור|ยอมรับ)|'
        .'value\s*=\s*["\'][^"\']{0,40}(?:accept|agree|allow)~iu';

    /** Passages that are checked. */
    private const MOST = 2_000;

    /** @var list<Passage> */
    private array $passages;

    public function __construct(private Document $document, private string $html)
    {
        $this->passages = \array_slice($document->passages, 0, self::MOST);
    }

    public function asksForPassword(): bool
    {
        return 1 === preg_match(self::PASSWORD, $this->html);
    }

    /** Whether the form for it is what the page is for, rather than a box above something else. */
    public function isWayIn(): bool
    {
        if ((new NotFoundMessage($this->document))->isSaid()) {
            return false;
        }
        $behind = 1 === preg_match(self::PASSWORD, $this->html, $m, \PREG_OFFSET_CAPTURE) ? substr($this->html, $m[0][1]) : '';
        preg_match_all('~<h[1-3]\b[^<>]*>(.*?)</h[1-3]>~is', $behind, $m);

        return [] === array_filter(
            $m[1],
            static fn (string $heading): bool =>
                !Troubles::asksForSignIn(html_entity_decode(strip_tags($heading), \ENT_QUOTES | \ENT_HTML5, 'UTF-8')),
        );
    }

    /**
     * How many words stand behind the sentence that says who may read on: in a menu, one invites; at a gate, one ends.
     *
     * @return int|null null if there is no such sentence
     */
    public function behindGate(): ?int
    {
        $after = null;
        foreach ($this->passages as $passage) {
            if (Troubles::isGate($passage->text)) {
                $after = 0;
            } elseif (null !== $after && PassageKind::Heading !== $passage->kind && !NotFoundMessage::isAround($passage)) {
                $after += NothingThere::words($passage->text);
            }
        }

        return $after;
    }

    /**
     * How many words stand beside a request for consent.
     *
     * @return int|null null if there is none that could stand in place of the text: none at all, or a layer over a page with headings of
     *     its own
     */
    public function besideConsent(): ?int
    {
        if (!$this->asksForConsent()) {
            return null;
        }
        $layer = $this->layer();
        $beside = 0;
        foreach ($this->passages as $passage) {
            if (NotFoundMessage::isAround($passage) || Troubles::asksForConsent($passage->text)
                || (null !== $layer && str_starts_with($passage->path.' ', $layer.' '))) {
                continue;
            }
            if (null !== $layer
                && (PassageKind::Heading === $passage->kind
                    || \in_array(TroubleWords::gone($passage->text), [Saying::Plainly, Saying::Wholly], true))) {
                return null;
            }
            $beside += NothingThere::words($passage->text);
        }

        return $beside;
    }

    /** What it is, if every address of the site shows it; null if there is no sign of one. */
    public function reason(): ?LiveReason
    {
        $head = $this->document->title;
        foreach ($this->passages as $passage) {
            if (PassageKind::Heading === $passage->kind) {
                $head .= "\n".$passage->text;
                break;
            }
        }

        return match (true) {
            $this->asksForPassword() && Troubles::asksForSignIn($head) => LiveReason::Login,
            null !== $this->besideConsent() => LiveReason::Consent,
            null !== $this->behindGate() && !(new NotFoundMessage($this->document))->isSaid() => LiveReason::Login,
            default => null,
        };
    }

    private function asksForConsent(): bool
    {
        return Troubles::asksForConsent(mb_substr($this->document->title."\n".$this->document->text(), 0, 1_500))
            && 1 === preg_match(self::AGREE, $this->html);
    }

    /** The way to the element that holds the request for consent and nothing else; null if that is the whole page. */
    private function layer(): ?string
    {
        $common = null;
        foreach ($this->passages as $passage) {
            if (Troubles::asksForConsent($passage->text) || 1 === preg_match('~ button[#.:]~', $passage->path)) {
                $steps = explode(' ', $passage->path);
                $common = null === $common ? $steps : \array_slice($common, 0, self::alike($common, $steps));
            }
        }

        return null === $common || \count($common) <= self::PAGE ? null : implode(' ', $common);
    }

    /**
     * @param list<string> $one
     * @param list<string> $other
     *
     * @return int how many steps both begin with
     */
    private static function alike(array $one, array $other): int
    {
        $n = 0;
        while ($n < min(\count($one), \count($other)) && $one[$n] === $other[$n]) {
            ++$n;
        }

        return $n;
    }
}
