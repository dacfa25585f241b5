<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

use Ypomna\Core\Completeness\PageSeen;
use Ypomna\Core\Completeness\Trouble;
use Ypomna\Core\Completeness\Troubles;
use Ypomna\Core\Http\Charset;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\MainText;

/** What a page that was answered shows of itself. */
final class PageSigns
{
    private const PARKED = '/(?:(?:this|the|buy (?:this|the)?) ?(?:web ?)?(?:domain|name|website)(?: name)?|\b[a-z0-9-]+\.[a-z]{2,12}\b)[^.!?\n]{0,40}\b(?:may be|is|could be|are)?\s*(?:available )?for sale\b|\bbuy this (?:domain|name)|(?:domain|name|website) (?:is |has been )?parked|parked (?:free|domain|page)|domain (?:name )?(?:has )?expired|(?:account|site|website|hosting|page) (?:has been |is |was )(?:temporarily )?(?:suspended|disabled|deactivated)|inquire about this (?:domain|name)|make an offer (?:on|for) this|interested in this (?:domain|name)|related searches|sponsored listings|diese domain (?:steht|ist)[^.!?\n]{0,30}(?:verkauf|zu verkaufen|geparkt)|domain (?:kaufen|zu verkaufen)|ce (?:nom de )?domaine[^.!?\n]{0,30}(?:vendre|expiré)|este dominio[^.!?\n]{0,30}(?:venta|expirado)|このドメイン[^。\n]{0,20}(?:販売|売|お名前|期限)/iu';
    private const DEFAULTS = '/^\W*(?:it works!?|welcome to nginx!?|test page for the .{0,40}(?:server|http)|apache2? .{0,30}default page|.{0,30}default (?:web ?)?(?:page|site)\b|iis windows server|web server.s default page|index of \/\s*$|(?:this )?(?:site|website|page) (?:is )?(?:coming soon|under construction)|future home of|new website coming soon|congratulations!? .{0,60}(?:successfully|working)|default (?:server|vhost))|\bif you (?:see this page|are the (?:owner|administrator))[^.!?\n]{0,120}(?:server|hosting|installed|website)|the (?:nginx|web|apache) (?:web ?)?server (?:is |software )?(?:successfully )?(?:installed|working|running)/iu';
    private const REMOVED = '/\b(?:this|the|that) (?:\w+ ){0,2}(?:article|page|story|post|thread|topic|item|document|content|notice|video|message|release|report|listing|product|job|entry)(?: that you (?:\w+ ){1,5})? (?:has been|was|is|have been|had to be|has) (?:\w+ ){0,2}(?:removed|deleted|withdrawn|taken down|taken offline|unpublished|archived and|no longer (?:available|online|here|exist\w*)|not (?:available|found|here) (?:any ?more|any longer)?|unavailable|expired|discontinued)|\bno longer (?:available|exists?|online)\b|(?:we|i) (?:have |\'?ve )?(?:re)?moved things (?:around|about)|(?:sorry|oops|oh no|whoops|hmm)[^.!?\n]{0,60}(?:not (?:find|here|there|exist)|can[’\']?t find|couldn[’\']?t find|missing|gone|nothing (?:here|there))|nothing (?:was |could be )?(?:found|here|to see here)|(?:we|you) (?:can[’\']?t|cannot|could ?n[o’\']t|were unable to|are unable to) (?:seem to )?find|(?:diese[rs]?|der|die|das) (?:\w+ )?(?:artikel|seite|beitrag|meldung|inhalt)[^.!?\n]{0,40}(?:gelöscht|entfernt|nicht mehr|offline|verschoben)|(?:cet|cette|l[’\']) ?(?:article|page)[^.!?\n]{0,40}(?:supprimé|retiré|plus disponible|n[’\']existe)|(?:este|esta|el|la) (?:artículo|página|noticia)[^.!?\n]{0,40}(?:eliminad|retirad|ya no|no existe|no está)|(?:το|η) (?:άρθρο|σελίδα)[^.!?\n]{0,40}(?:αφαιρ|διαγρ|δεν|έχει)|η σελίδα (?:που ζητήσατε )?δεν|(?:страница|статья|материал)[^.!?\n]{0,40}(?:не найден|удал|не существует|снят)|не найдена?\b|(?:この|お探しの|該当する)?(?:記事|ページ|投稿)[^。\n]{0,25}(?:削除|見つかり|存在し|ありません|公開を終了)|(?:الصفحة|المقال)[^.!؟\n]{0,40}(?:غير موجود|حذف|لم يتم العثور|لا يوجد)|لم يتم العثور|页面(?:不存在|未找到|已删除)|找不到(?:页面|該頁)/iu';

    public readonly string $html;
    public readonly Document $document;
    public readonly MainText $main;
    /** @var list<Trouble> */
    public readonly array $troubles;
    public readonly int $words;
    private readonly string $beginning;

    public function __construct(private readonly Looked $looked)
    {
        $this->html = Charset::toUtf8($looked->body, Charset::detect($looked->body, $looked->contentType));
        $this->document = $looked->isHtml() ? Document::fromHtml($looked->body, $looked->contentType, (string) $looked->final) : Document::fromText($this->html);
        $this->main = $looked->isHtml() ? MainText::fromHtml($looked->body, $looked->contentType, (string) $looked->final) : new MainText('', null, null, null, $this->html, true, 1.0, str_word_count($this->html));
        $substance = (int) preg_match_all('/<(?:img|picture|video|audio|canvas|svg|iframe|frame|object|embed)\b/i', $this->html);
        $seen = new PageSeen($looked->status ?? 0, (string) $looked->asked->withoutFragment(), (string) $looked->final, $this->document->title, $this->document->text(), $this->html, $substance);
        $this->words = $seen->words();
        $this->troubles = $looked->isHtml() ? Troubles::of($seen) : [];
        $this->beginning = mb_substr($this->document->title."\n".$this->document->text(), 0, 1_500);
    }

    public function has(Trouble $trouble): bool
    {
        return \in_array($trouble, $this->troubles, true);
    }

    /** Whether there is an article, which may be about anything. */
    public function isArticle(): bool
    {
        return $this->main->isArticle && $this->main->words >= 120;
    }

    public function isParked(): bool
    {
        if ($this->words > 220 || $this->isArticle()) {
            return false;
        }

        return 1 === preg_match(self::PARKED, $this->beginning) || ($this->words < 160 && (1 === preg_match(self::DEFAULTS, trim($this->document->title)) || 1 === preg_match(self::DEFAULTS, trim($this->document->text()))));
    }

    /** Whether the page says of itself that what was asked for is not there (any more). */
    public function saysGone(): bool
    {
        if ($this->has(Trouble::Soft404)) {
            return !$this->isArticle();
        }
        // It says so where it begins, and says little else.
        $headings = implode("\n", array_map(static fn ($passage): string => $passage->text, \array_slice(array_filter($this->document->passages, static fn ($passage): bool => 'heading' === $passage->kind->value), 0, 3)));
        $short = $this->words < 260 || $this->main->words < 70;

        return !$this->isArticle() && $short && (1 === preg_match(self::REMOVED, $headings."\n".$this->document->title) || 1 === preg_match(self::REMOVED, mb_substr($this->main->text, 0, 400)) || ($this->words < 140 && 1 === preg_match(self::REMOVED, $this->beginning)));
    }

    /** Whether a request for consent stands in place of the text. */
    public function isConsentWall(): bool
    {
        if ($this->isArticle() || $this->words > 400) {
            return false;
        }
        $asks = Troubles::asksForConsent($this->beginning);
        $button = 1 === preg_match('~<(?:button|a|input)\b[^<>]*>?[^<]{0,80}(?:accept|agree|allow|consent|akzeptier|zustimm|einverstanden|accepter|aceptar|accetta|αποδοχή|αποδέχομαι|συμφων|同意)|value\s*=\s*["\'][^"\']{0,40}(?:accept|agree|allow)~iu', $this->html);

        return $asks && $button && ($this->main->words < 120 || Troubles::asksForConsent($this->main->text));
    }
}
